import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../api/client";
import { renew, sharesQuery } from "../api/queries";
import { ChoiceField, TickField } from "../shell/fields";
import { notifyTrouble } from "../shell/notices";
import { Sheet } from "../shell/Sheet";
import { Loading } from "../shell/states";
import { askToShare, type ToShare, useToShare } from "./shareState";

function Asked({ what }: { what: ToShare }) {
  const shares = useQuery(sharesQuery);
  const [person, setPerson] = useState<string>();
  const [mayCopy, setMayCopy] = useState(false);
  const put = useMutation({
    mutationFn: (withId: string) =>
      ask(api.PUT("/api/shares", { body: { kind: what.kind, record_id: what.id, with_id: withId, may_copy: mayCopy } })),
    onSuccess: () => renew("shares"),
  });
  const end = useMutation({
    mutationFn: (id: string) => ask(api.DELETE("/api/shares/{id}", { params: { path: { id } } })),
    onSettled: () => renew("shares"),
    onError: notifyTrouble,
  });
  if (!shares.data)
    return shares.isError ? <Box color="rust">{wordsOf(problemOf(shares.error))}</Box> : <Loading what="who is here" />;
  const { people, mine } = shares.data;
  const shared = mine.filter((one) => one.kind === what.kind && one.record_id === what.id);
  if (people.length === 0)
    return <Box>Nobody else has an account here yet. Whoever runs this installation can invite somebody.</Box>;
  const chosen = person ?? people[0]?.id ?? "";
  return (
    <Flex direction="column" gap="3" align="start">
      <ChoiceField
        width="260px"
        label="with"
        value={chosen}
        options={people.map((one) => [one.id, one.name] as const)}
        onCommit={setPerson}
      />
      <TickField label="they may copy it into their own" value={mayCopy} onCommit={setMayCopy} />
      <Box color="muted" fontSize="13.5px">
        {what.kind === "place"
          ? "They see the place and every composition there, now and later, until you end it."
          : "They see the composition and where it is, as it is now and becomes, until you end it."}
      </Box>
      {put.isError ? (
        <Box role="alert" color="rust">
          {wordsOf(problemOf(put.error))}
        </Box>
      ) : null}
      <Button loading={put.isPending} onClick={() => put.mutate(chosen)}>
        Share
      </Button>
      {shared.length > 0 ? (
        <Box as="ul" w="100%" listStyleType="none" borderTopWidth="1px" borderColor="line">
          {shared.map((one) => (
            <Flex as="li" key={one.id} align="center" py="6px" borderBottomWidth="1px" borderColor="line">
              <Box flex="1">
                {one.person} {one.may_copy ? "may look and copy" : "may look"}
              </Box>
              <Button size="sm" variant="outline" aria-label={`End sharing with ${one.person}`} onClick={() => end.mutate(one.id)}>
                End
              </Button>
            </Flex>
          ))}
        </Box>
      ) : null}
    </Flex>
  );
}

/** With whom something is shared, and whether they may copy it. */
export function ShareSheet() {
  const what = useToShare();
  return what ? (
    <Sheet title={`Share “${what.name}”`} open onClose={() => askToShare(null)}>
      <Asked key={what.id} what={what} />
    </Sheet>
  ) : null;
}
