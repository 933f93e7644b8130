import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { outingsQuery, renew } from "../api/queries";
import type { OutingBrief } from "../api/types";
import { notify, notifyTrouble } from "../shell/notices";
import { RareActs } from "../shell/RareActs";
import { Empty, Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { NewOutingSheet } from "./NewOutingSheet";

function Row({ one }: { one: OutingBrief }) {
  const path = { params: { path: { id: one.id } } };
  const again = () => renew("outings");
  const duplicate = () => void ask(api.POST("/api/outings/{id}/duplicate", path)).then(again).catch(notifyTrouble);
  const restore = () => void ask(api.POST("/api/outings/{id}/restore", path)).then(again).catch(notifyTrouble);
  const remove = () =>
    void ask(api.DELETE("/api/outings/{id}", path))
      .then(async () => {
        await again();
        notify({ title: `${one.name} deleted`, undo: restore });
      })
      .catch(notifyTrouble);
  return (
    <Flex borderBottomWidth="1px" borderColor="line" py="3" gap="4" align="center">
      <Box flex="1" minW="0">
        <Link to={`/outings/${one.id}`} style={{ fontWeight: 700, fontSize: 17, textDecoration: "underline" }}>
          {one.name}
        </Link>
        <Box color="muted">
          {one.when_text} · {one.visits} {one.visits === 1 ? "picture" : "pictures"}
        </Box>
      </Box>
      <Box className="lr-fig" fontWeight="700">
        {one.away_text}
      </Box>
      <RareActs
        of={one.name}
        acts={[
          { key: "duplicate", label: "Duplicate", run: duplicate },
          { key: "delete", label: "Delete", run: remove },
        ]}
      />
    </Flex>
  );
}

/** Outings: those to come, and those that are over. */
export default function OutingsPage() {
  const outings = useQuery(outingsQuery);
  const [adding, setAdding] = useState(false);
  const add = (
    <Button variant="solid" size="md" onClick={() => setAdding(true)}>
      New outing
    </Button>
  );
  const all = outings.data;
  const [ahead, over] = [(all ?? []).filter((one) => !one.over), (all ?? []).filter((one) => one.over)];
  return (
    <Page
      title="Outings"
      word="outing"
      intro="Which pictures, in what order, when to leave, what to carry, when to turn back."
      actions={add}
    >
      {outings.isError && !all ? <Trouble error={outings.error} again={() => void outings.refetch()} /> : null}
      {!all && !outings.isError ? <Loading what="your outings" /> : null}
      {all?.length === 0 ? (
        <Empty title="No outing yet" action={add}>
          Choose a day and where you start, then the pictures you want. Their light, the ways between them and the tide make the
          plan.
        </Empty>
      ) : null}
      {ahead.map((one) => (
        <Row key={one.id} one={one} />
      ))}
      {over.length > 0 ? (
        <Box mt="8">
          <Box as="h2" fontWeight="700" fontSize="16px">
            Over
          </Box>
          {over.map((one) => (
            <Row key={one.id} one={one} />
          ))}
        </Box>
      ) : null}
      {adding ? <NewOutingSheet onClose={() => setAdding(false)} /> : null}
    </Page>
  );
}
