import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import { renew, type TakeFilter, takesQuery } from "../api/queries";
import type { TakeBrief } from "../api/types";
import { sendWaiting } from "../board/outbox";
import { useBoard } from "../board/useBoard";
import { ChoiceField } from "../shell/fields";
import { Empty, Loading, Trouble } from "../shell/states";
import { Rating } from "../shell/Rating";
import { Page } from "../shell/TopBar";

function Line({ take }: { take: TakeBrief }) {
  return (
    <Link to={`/logbook/${take.id}`}>
      <Box
        display="grid"
        gridTemplateColumns={{ base: "1fr auto", md: "190px 1.2fr 1.4fr 110px" }}
        columnGap="5"
        rowGap="1"
        py="10px"
        px="3"
        bg="panel"
        borderWidth="1px"
        borderColor="line"
        mb="6px"
        _hover={{ bg: "raised" }}
        data-testid="take"
      >
        <Box fontFamily="mono" fontSize="13px" color="muted">
          {take.started_text}
        </Box>
        <Box order={{ base: 3, md: 0 }} gridColumn={{ base: "1 / -1", md: "auto" }}>
          <Box fontWeight="700">{take.composition_name}</Box>
          <Box fontSize="13px" color="muted">
            {take.place_name} · {take.settings_text}
          </Box>
        </Box>
        <Box order={{ base: 4, md: 0 }} gridColumn={{ base: "1 / -1", md: "auto" }} fontSize="13.5px">
          {take.note}
          <Flex gap="1" wrap="wrap" mt="1">
            {take.frames_done < take.frames_planned ? (
              <Box borderWidth="1px" borderColor="slate" px="6px" fontSize="12px">
                {take.frames_done} of {take.frames_planned} frames
              </Box>
            ) : (
              <Box fontSize="12px" color="muted">
                {take.frames_planned} {take.frames_planned === 1 ? "frame" : "frames"}
              </Box>
            )}
            {take.faults.map((fault) => (
              <Box key={fault} borderWidth="1px" borderStyle="dashed" borderColor="rust" color="rust" px="6px" fontSize="12px">
                {fault}
              </Box>
            ))}
          </Flex>
        </Box>
        <Box textAlign="right">
          <Rating rating={take.rating} />
        </Box>
      </Box>
    </Link>
  );
}

/** Sequences as they were carried out. */
export default function LogbookPage() {
  const [params, setParams] = useSearchParams();
  const [pages, setPages] = useState<string[]>([]);
  const after = pages.at(-1);
  const place = params.get("place") ?? "";
  const fault = params.get("fault") ?? "";
  const filter: TakeFilter = { ...(place ? { place_id: place } : {}), ...(fault ? { fault } : {}), ...(after ? { after } : {}) };
  const takes = useQuery(takesQuery(filter));
  const choose = (key: string, value: string) => {
    setPages([]);
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(key, value);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  };
  const waiting = useBoard()?.waiting.filter((one) => one.kind === "take" && one.state !== "sent").length ?? 0;
  const send = () => void sendWaiting().then(() => renew("takes"));
  const data = takes.data;
  return (
    <Page word="take" title="Logbook" intro="What was carried out, how it went, and what it was meant to be.">
      {waiting > 0 ? (
        <Flex role="status" bg="rustFaint" p="3" mb="4" gap="3" align="center">
          <Box flex="1">
            {waiting} {waiting === 1 ? "take waits" : "takes wait"} on this device for a connection.
          </Box>
          <Button onClick={send}>Send now</Button>
        </Flex>
      ) : null}
      {takes.isError && !data ? <Trouble error={takes.error} again={() => void takes.refetch()} /> : null}
      {takes.isPending ? <Loading what="the logbook" /> : null}
      {data ? (
        <>
          <Flex gap="4" mb="4" align="end" wrap="wrap">
            <ChoiceField
              width="220px"
              label="place"
              value={place}
              options={[["", "every place"], ...data.places.map((one) => [one.id, `${one.name} (${one.takes})`] as const)]}
              onCommit={(v) => choose("place", v)}
            />
            <ChoiceField
              width="220px"
              label="fault"
              value={fault}
              options={[
                ["", "with and without faults"],
                ...data.faults.map((one) => [one.fault, `${one.fault} (${one.takes})`] as const),
              ]}
              onCommit={(v) => choose("fault", v)}
            />
            <Box pb="6px" color="muted" role="status">
              {data.total} {data.total === 1 ? "take" : "takes"}
            </Box>
          </Flex>
          {data.takes.map((take) => (
            <Line key={take.id} take={take} />
          ))}
          {data.total === 0 ? (
            place || fault ? (
              <Empty title="No take fits" action={<Button onClick={() => setParams({})}>Show all</Button>}>
                There are takes, but none with this place and fault together.
              </Empty>
            ) : (
              <Empty title="No takes yet">
                Make a sequence on a workbench and take it to the field; when it is carried out it is written here.
              </Empty>
            )
          ) : null}
          {after || data.next ? (
            <Flex gap="3" mt="3">
              <Button disabled={!after} onClick={() => setPages(pages.slice(0, -1))}>
                Newer
              </Button>
              <Button disabled={!data.next} onClick={() => data.next && setPages([...pages, data.next])}>
                Older
              </Button>
            </Flex>
          ) : null}
        </>
      ) : null}
    </Page>
  );
}
