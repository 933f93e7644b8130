import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { api, ask, problemOf, wordsOf } from "../api/client";
import type { Change } from "../api/types";
import { ChoiceField } from "../shell/fields";
import { Loading } from "../shell/states";
import { type Other, useBench } from "../workbench/context";
import { Compare } from "./Compare";
import { DrawnPicture } from "./DrawnPicture";
import { LONGEST_PX, proofOf, type Subject } from "./drawing";

const AS_IT_IS = "As you have it";

/** The picture as it is, and another way to take it, a mend or a mishap, over one another. */
export function Beside({ subject, first }: { subject: Subject; first: Other | undefined }) {
  const { state } = useBench();
  const ways = useQuery({
    queryKey: ["ways-beside", subject],
    queryFn: async () => await ask(api.POST("/api/ways", { body: { scene: subject.scene, changes: [] } })),
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const others = useMemo<Other[]>(() => {
    const mends = (state.evaluation?.tensions ?? []).flatMap((one) =>
      one.mend ? [{ name: `${one.title}: ${one.mend.label}`, changes: one.mend.changes as Change[] }] : [],
    );
    const found = (ways.data?.ways ?? [])
      .filter((one) => !one.in_use)
      .map((one) => ({ name: one.name, changes: one.changes as Change[] }));
    const given = first ? [first] : [];
    return [...given, ...found.filter((one) => one.name !== first?.name), ...mends];
  }, [first, ways.data, state.evaluation]);
  const [name, setName] = useState(first?.name);
  const chosen = others.find((one) => one.name === name) ?? others[0];
  const drawn = (changes: Change[], wanted: boolean) => ({
    queryKey: ["beside", subject, JSON.stringify(changes)],
    queryFn: async ({ signal }: { signal: AbortSignal }) =>
      await proofOf({ ...subject, changes }, { longest_px: LONGEST_PX }, signal),
    enabled: wanted,
    gcTime: 30_000,
  });
  const mine = useQuery(drawn([], true));
  const theirs = useQuery(drawn(chosen?.changes ?? [], chosen !== undefined && mine.isSuccess));
  const failed = [mine, theirs].find((one) => one.isError);
  return (
    <Flex direction="column" h="100%" gap="8px">
      {others.length > 0 ? (
        <Box maxW="420px">
          <ChoiceField
            label="Beside"
            value={chosen?.name ?? ""}
            options={others.map((one) => [one.name, one.name] as const)}
            onCommit={setName}
          />
        </Box>
      ) : (
        <Box>
          {ways.isLoading ? "Looking for other ways …" : "There is no other way that gives what you want, and nothing to mend."}
        </Box>
      )}
      <Box
        flex="1"
        minH="0"
        position="relative"
        data-testid="beside"
        data-drawn={theirs.data ? "both" : mine.data ? "one" : "none"}
      >
        {failed ? (
          <Box role="alert" color="rust">
            {wordsOf(problemOf(failed.error))}
          </Box>
        ) : mine.data && theirs.data && chosen ? (
          <Compare left={mine.data} right={theirs.data} names={[AS_IT_IS, chosen.name]} />
        ) : mine.data ? (
          <DrawnPicture jpeg={mine.data.jpeg} width={mine.data.width} height={mine.data.height} label={AS_IT_IS} />
        ) : (
          <Loading what="both pictures" />
        )}
      </Box>
      {mine.data && theirs.data && chosen && (
        <Flex gap="16px" fontSize="13px">
          {[["left", AS_IT_IS, mine.data.told] as const, ["right", chosen.name, theirs.data.told] as const].map(
            ([side, name, told]) => (
              <Box key={side} flex="1" data-testid={`told-${side}`}>
                <b>{name}:</b> {told.title}. {told.told.join(" ")}
              </Box>
            ),
          )}
        </Flex>
      )}
    </Flex>
  );
}
