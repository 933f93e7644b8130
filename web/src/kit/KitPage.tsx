import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask } from "../api/client";
import { kitQuery, renew } from "../api/queries";
import type { KitItemOut } from "../api/types";
import { RareActs } from "../shell/RareActs";
import { notify, notifyTrouble } from "../shell/notices";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { FRESH, type Kind, KINDS, summary } from "./fields";
import { KitSheet } from "./KitSheet";
import { StarterKitSheet } from "./StarterKitSheet";

/** What is needed only for some pictures. */
const NEEDED: Partial<Record<Kind, string>> = {
  filter: "A composition needs none, but a long exposure does.",
  gear: "Close-ups beyond the reach of a lens need some; a rail makes stacks even.",
  light: "A flash or a lamp lights close subjects.",
};

const refresh = () => renew("kit");

function Line({ one, onEdit }: { one: KitItemOut; onEdit: () => void }) {
  const path = { params: { path: { id: one.id } } };
  const { name } = one.item.details;
  const remove = () =>
    ask(api.DELETE("/api/kit/{id}", path)).then(() => {
      void refresh();
      notify({
        title: `${name} deleted`,
        undo: () => void ask(api.POST("/api/kit/{id}/restore", path)).then(refresh, notifyTrouble),
      });
    }, notifyTrouble);
  const confirm = () =>
    ask(api.PUT("/api/kit/{id}", { ...path, body: { version: one.version, item: one.item } })).then(refresh, notifyTrouble);
  return (
    <Flex align="center" gap="2" py="6px" borderTopWidth="1px" borderColor="line">
      <Box flex="1" minW="0">
        <Box fontWeight="700">{name}</Box>
        <Box fontSize="12.5px" color="muted">
          {summary(one.item)}
        </Box>
      </Box>
      {one.usual ? (
        <Button
          onClick={() => void confirm()}
          aria-label={`Values of ${name} are right`}
          title="These are usual values. Press when they are right."
        >
          Usual: confirm
        </Button>
      ) : null}
      <Button onClick={onEdit} aria-label={`Edit ${name}`}>
        Edit
      </Button>
      <RareActs
        of={name}
        acts={[
          {
            key: "duplicate",
            label: "Duplicate",
            run: () => void ask(api.POST("/api/kit/{id}/duplicate", path)).then(refresh, notifyTrouble),
          },
          { key: "delete", label: "Delete", run: () => void remove() },
        ]}
      />
    </Flex>
  );
}

/** What is owned: only these are ever proposed. */
export default function KitPage() {
  const kit = useQuery(kitQuery);
  const [editing, setEditing] = useState<KitItemOut>();
  const [adding, setAdding] = useState<Kind>();
  const [starting, setStarting] = useState(false);
  return (
    <Page
      title="Kit"
      intro="What you own. Only these are ever proposed, with their real limits and costs."
      actions={
        <Button variant={kit.data?.length === 0 ? "solid" : "outline"} size="md" onClick={() => setStarting(true)}>
          Starter kit
        </Button>
      }
    >
      {kit.isError && !kit.data ? <Trouble error={kit.error} again={() => void kit.refetch()} /> : null}
      {kit.isPending ? <Loading what="the kit" /> : null}
      {kit.data ? (
        <Box display="grid" gridTemplateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap="5">
          {KINDS.map(([kind, title, one]) => {
            const items = kit.data.filter(({ item }) => item.kind === kind);
            return (
              <Box as="section" key={kind} bg="panel" borderWidth="1px" borderColor="line" p="4" aria-label={title}>
                <Flex align="center" mb="2">
                  <chakra.h2 flex="1" fontSize="17px" fontWeight="700">
                    {title}
                  </chakra.h2>
                  <Button variant="outline" onClick={() => setAdding(kind)}>
                    Add {one}
                  </Button>
                </Flex>
                {items.map((item) => (
                  <Line key={item.id} one={item} onEdit={() => setEditing(item)} />
                ))}
                {items.length === 0 ? <Box color="muted">None yet. {NEEDED[kind] ?? `A composition needs ${one}.`}</Box> : null}
              </Box>
            );
          })}
        </Box>
      ) : null}
      {starting ? <StarterKitSheet onClose={() => setStarting(false)} /> : null}
      {editing ? (
        <KitSheet
          key={editing.id}
          saved={editing}
          kind={editing.item.kind}
          start={editing.item.details}
          onClose={() => setEditing(undefined)}
        />
      ) : null}
      {adding ? <KitSheet key={adding} kind={adding} start={FRESH[adding]} onClose={() => setAdding(undefined)} /> : null}
    </Page>
  );
}
