import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { api, ask } from "../api/client";
import { lookedQuery, queryClient, renew } from "../api/queries";
import type { CompositionOut, ShownFinding } from "../api/types";
import { useJobs } from "../jobs/JobRows";
import { notify, notifyTrouble } from "../shell/notices";
import { Progress } from "../shell/Progress";
import { Trouble } from "../shell/states";

interface Props {
  take: string;
  composition: string;
  faults: readonly string[];
  onFault: (fault: string) => void;
}

const compositionPath = (id: string) => ({ params: { path: { id } } });

/** Put a composition back as it was before a proposal was taken on. */
async function putBack(before: CompositionOut, version: number) {
  const { name, place_id, body_id, lens_id, support_id, composition } = before;
  await ask(
    api.PUT("/api/compositions/{id}", {
      ...compositionPath(before.id),
      body: { version, name, place_id, body_id, lens_id, support_id, composition },
    } as never),
  );
}

/** What the pictures of a take show, what to do next time, and which fault that is in the logbook. */
export function WhatShows({ take, composition, faults, onFault }: Props) {
  const looked = useQuery(lookedQuery(take));
  const jobs = useJobs();
  const look = useMutation({
    mutationFn: () => ask(api.POST("/api/review/takes/{id}/look", { params: { path: { id: take } } })),
    onSuccess: () => renew("jobs"),
    onError: notifyTrouble,
  });
  const looking = jobs.data?.find((one) => one.id === look.data?.id && ["waiting", "running"].includes(one.state));
  const next = useMutation({
    mutationFn: async (which: { finding: number; proposal: number; label: string }) => {
      const before = await ask(api.GET("/api/compositions/{id}", compositionPath(composition)));
      const body = { finding: which.finding, proposal: which.proposal };
      const made = await ask(api.POST("/api/review/takes/{id}/next-time", { params: { path: { id: take } }, body }));
      return { before, version: made.version, label: which.label };
    },
    onSuccess: ({ before, version, label }) => {
      const fresh = () => void renew("compositions", "composition");
      fresh();
      notify({
        title: `In the composition: ${label}`,
        undo: () => void putBack(before, version).then(fresh, notifyTrouble),
      });
    },
    onError: notifyTrouble,
  });
  // The first look begins by itself; another one is asked for.
  const begun = useRef(false);
  const state = looked.data?.state;
  const count = looked.data?.pictures ?? 0;
  const { mutate } = look;
  useEffect(() => {
    if (state !== "none" || count === 0 || begun.current) return;
    begun.current = true;
    mutate();
  }, [state, count, mutate]);
  const over = !looking && look.isSuccess;
  useEffect(() => {
    if (over) void queryClient.invalidateQueries({ queryKey: ["looked", take] });
  }, [over, take]);

  if (looked.isError && !looked.data) return <Trouble error={looked.error} again={() => void looked.refetch()} />;
  if (!looked.data || looked.data.pictures === 0) return null;
  return (
    <Box mt="5" data-testid="shows">
      <Flex align="baseline" gap="4" mb="2">
        <chakra.h2 fontSize="18px" fontWeight="700">
          What the pictures show
        </chakra.h2>
        {looking ? (
          <Progress words={looking.doing || "waits"} share={looking.whole > 0 ? looking.done / looking.whole : null} />
        ) : (
          <Button size="sm" onClick={() => look.mutate()}>
            {looked.data.state === "old" ? "Pictures or checks are new: look again" : "Look again"}
          </Button>
        )}
      </Flex>
      {looked.data.state !== "none" && looked.data.shown.length === 0 && !looking ? (
        <Box role="status">Nothing stands out: no channel is full, the camera stood still, no slice is missing.</Box>
      ) : null}
      {looked.data.shown.map((one, finding) => (
        <Finding
          key={one.title}
          one={one}
          noted={one.fault !== null && faults.includes(one.fault)}
          onFault={onFault}
          onNext={(proposal, label) => next.mutate({ finding, proposal, label })}
        />
      ))}
    </Box>
  );
}

function Finding({
  one,
  noted,
  onFault,
  onNext,
}: {
  one: ShownFinding;
  noted: boolean;
  onFault: (fault: string) => void;
  onNext: (proposal: number, label: string) => void;
}) {
  const { fault } = one;
  return (
    <Box borderLeftWidth="4px" borderColor={one.told ? "rust" : "line"} pl="12px" py="2" mb="2" data-testid="finding">
      <Flex gap="3" align="baseline" wrap="wrap">
        <Box fontWeight="600">{one.title}</Box>
        {one.told ? (
          <Box fontSize="12.5px" color="muted">
            {one.sure}
          </Box>
        ) : null}
      </Flex>
      <Box fontSize="13.5px" color="muted">
        {one.why}
      </Box>
      {one.next_time.length > 0 || fault ? (
        <Flex gap="2" mt="2" wrap="wrap" align="center">
          {one.next_time.map((proposal, i) => (
            <Button key={proposal.label} size="sm" variant="outline" onClick={() => onNext(i, proposal.label)}>
              Next time: {proposal.label}
            </Button>
          ))}
          {fault ? (
            noted ? (
              <Box fontSize="13px">noted: {fault}</Box>
            ) : (
              <Button size="sm" onClick={() => onFault(fault)}>
                Note the fault: {fault}
              </Button>
            )
          ) : null}
        </Flex>
      ) : null}
    </Box>
  );
}
