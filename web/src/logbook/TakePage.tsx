import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { api, ask, problemOf } from "../api/client";
import { lookedQuery, queryClient, takePicturesQuery, takeQuery } from "../api/queries";
import type { Fault, TakeOut } from "../api/types";
import { FAULTS } from "../field/faults";
import { SequenceStrip } from "../instruments/SequenceStrip";
import { ContactSheet } from "../review/ContactSheet";
import { WhatShows } from "../review/WhatShows";
import { TextField } from "../shell/fields";
import { notify } from "../shell/notices";
import { Rating } from "../shell/Rating";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";

const cell = { px: "8px", py: "6px", textAlign: "left", verticalAlign: "top" } as const;

export default function TakePage() {
  const { id = "" } = useParams();
  const take = useQuery(takeQuery(id));
  if (take.isError && !take.data)
    return (
      <Page title="Take">
        <Trouble error={take.error} again={() => void take.refetch()} />
      </Page>
    );
  if (!take.data) return <Loading what="the take" />;
  return <Take key={take.data.version} take={take.data} />;
}

function Take({ take }: { take: TakeOut }) {
  const go = useNavigate();
  const [adding, setAdding] = useState(false);
  const path = { params: { path: { id: take.id } } };
  const review = useMutation({
    mutationFn: async (part: { rating?: number | null; note?: string; faults?: string[] }) => {
      const body = { version: take.version, rating: take.rating, note: take.note, faults: take.faults, ...part } as {
        version: number;
        rating: number | null;
        note: string;
        faults: Fault[];
      };
      return await ask(api.PUT("/api/takes/{id}/review", { ...path, body }));
    },
    onSuccess: (saved) => {
      queryClient.setQueryData(["take", take.id], saved);
      void queryClient.invalidateQueries({ queryKey: ["takes"] });
    },
    onError: (error) => {
      const problem = problemOf(error);
      notify({
        title: problem.title,
        detail: problem.detail,
        kind: "trouble",
        undo: () => void queryClient.invalidateQueries({ queryKey: ["take", take.id] }),
        undoLabel: "Show the saved one",
      });
    },
  });
  const remove = () =>
    ask(api.DELETE("/api/takes/{id}", path)).then(
      () => {
        void queryClient.invalidateQueries({ queryKey: ["takes"] });
        void go("/logbook");
        notify({
          title: "Take deleted",
          undo: () =>
            void ask(api.POST("/api/takes/{id}/restore", path)).then(
              () => void queryClient.invalidateQueries({ queryKey: ["takes"] }),
            ),
        });
      },
      (error: unknown) => notify({ title: problemOf(error).title, kind: "trouble" }),
    );
  const pictures = useQuery(takePicturesQuery(take.id));
  const looked = useQuery(lookedQuery(take.id));
  const { plan } = take;
  const done = new Set(take.compared.filter((row) => row.status === "done").map((row) => row.number));
  return (
    <Page
      title={take.composition_name}
      intro={
        <>
          {take.place_name}, {take.started_text} ·{" "}
          {take.composition_id ? (
            <Link to={`/compositions/${take.composition_id}`} style={{ textDecoration: "underline" }}>
              open the composition
            </Link>
          ) : (
            "put together of its pictures"
          )}
        </>
      }
      actions={<Button onClick={() => void remove()}>Delete</Button>}
    >
      <Flex gap="8" wrap="wrap" mb="5" align="start">
        <Box>
          <Box fontSize="12px" color="muted">
            rating
          </Box>
          <Rating rating={take.rating} onRate={(rating) => review.mutate({ rating })} />
        </Box>
        <Box>
          <Box fontSize="12px" color="muted">
            took
          </Box>
          <Box fontFamily="mono">{take.actual_total_text}</Box>
          {plan.unplanned ? null : (
            <Box fontSize="12px" color="muted">
              planned {take.planned_total_text}
            </Box>
          )}
          {take.set_up_text ? (
            <Box fontSize="12px" color="muted">
              set up in {take.set_up_text}
            </Box>
          ) : null}
        </Box>
        {plan.unplanned ? null : (
          <Box>
            <Box fontSize="12px" color="muted">
              light, as planned
            </Box>
            {plan.light_text}
          </Box>
        )}
        <Box flex="1" minW="16rem">
          <TextField long label="note" value={take.note} onCommit={(note) => review.mutate({ note })} />
        </Box>
      </Flex>
      <Flex gap="2" wrap="wrap" mb="5" align="center">
        <Box fontSize="13px" color="muted">
          Faults:
        </Box>
        {take.faults.map((fault) => (
          <Button
            key={fault}
            borderStyle="dashed"
            borderColor="rust"
            color="rust"
            onClick={() => review.mutate({ faults: take.faults.filter((one) => one !== fault) })}
            aria-label={`Remove fault ${fault}`}
          >
            {fault} ×
          </Button>
        ))}
        {take.faults.length === 0 ? <Box fontSize="13px">none</Box> : null}
        <Button onClick={() => setAdding(!adding)} aria-expanded={adding}>
          Add a fault
        </Button>
        {adding ? (
          <Flex gap="1" wrap="wrap" w="100%">
            {FAULTS.filter((fault) => !take.faults.includes(fault)).map((fault) => (
              <Button key={fault} onClick={() => review.mutate({ faults: [...take.faults, fault] })}>
                {fault}
              </Button>
            ))}
          </Flex>
        ) : null}
      </Flex>
      {plan.unplanned ? null : <SequenceStrip frames={plan.sequence.frames} done={done} />}
      {pictures.data && pictures.data.length > 0 ? (
        <Box mt="4">
          <ContactSheet pictures={pictures.data} list={takePicturesQuery(take.id).queryKey} shown={looked.data?.shown ?? []} />
          <Box fontSize="13px" color="muted" mt="2">
            Ratings and keywords for other programs:{" "}
            <a href={`/api/review/takes/${take.id}/sidecars`} download style={{ textDecoration: "underline" }}>
              XMP sidecars
            </a>
            . The pictures themselves are never written to.
          </Box>
        </Box>
      ) : null}
      {take.composition_id ? (
        <WhatShows
          take={take.id}
          composition={take.composition_id}
          faults={take.faults}
          onFault={(fault) => review.mutate({ faults: [...take.faults, fault] })}
        />
      ) : null}
      {plan.unplanned ? null : <PlanBesideActual take={take} />}
    </Page>
  );
}

function PlanBesideActual({ take }: { take: TakeOut }) {
  return (
    <Box overflowX="auto" mt="4" tabIndex={0}>
      <chakra.table
        w="100%"
        bg="panel"
        borderWidth="1px"
        borderColor="line"
        css={{ borderCollapse: "collapse" }}
        data-testid="plan-beside-actual"
      >
        <thead>
          <chakra.tr color="muted" fontSize="12px">
            <chakra.th {...cell}>frame</chakra.th>
            <chakra.th {...cell}>planned</chakra.th>
            <chakra.th {...cell}>actual</chakra.th>
            <chakra.th {...cell}>noted</chakra.th>
          </chakra.tr>
        </thead>
        <tbody>
          {take.compared.map((row) => (
            <chakra.tr key={row.number} borderTopWidth="1px" borderColor="line">
              <chakra.td {...cell}>
                {row.number}
                <Box as="span" color="muted">
                  {" "}
                  {row.caption}
                </Box>
              </chakra.td>
              <chakra.td {...cell} fontFamily="mono">
                {row.planned_text}
              </chakra.td>
              <chakra.td {...cell} fontFamily="mono" color={row.differs ? "rust" : "ink"} fontWeight={row.differs ? "700" : "400"}>
                {row.actual_text}
                {row.differs && row.status === "done" ? ", not as planned" : ""}
                {row.repeats > 0 ? `, repeated ${row.repeats} ×` : ""}
              </chakra.td>
              <chakra.td {...cell}>{[row.fault, row.note].filter(Boolean).join("; ")}</chakra.td>
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
    </Box>
  );
}
