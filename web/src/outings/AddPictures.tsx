import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { compositionsQuery } from "../api/queries";
import type { CompositionBrief } from "../api/types";
import { TextField, TickField } from "../shell/fields";
import { Sheet } from "../shell/Sheet";
import { Loading } from "../shell/states";

/** Choose compositions for an outing, by place; one may come twice. */
export function AddPictures({
  there,
  onAdd,
  onClose,
}: {
  there: ReadonlySet<string>;
  onAdd: (chosen: CompositionBrief[]) => void;
  onClose: () => void;
}) {
  const compositions = useQuery(compositionsQuery);
  const [find, setFind] = useState("");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (one: CompositionBrief) => words.every((word) => `${one.name} ${one.place_name}`.toLowerCase().includes(word));
  const shown = (compositions.data ?? []).filter(fits).slice(0, 200);
  const turn = (id: string, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(id);
    else next.delete(id);
    setChosen(next);
  };
  const add = () => {
    onAdd((compositions.data ?? []).filter((one) => chosen.has(one.id)));
    onClose();
  };
  return (
    <Sheet
      title="Add pictures"
      open
      onClose={onClose}
      footer={
        <Button variant="solid" size="md" disabled={chosen.size === 0} onClick={add}>
          {chosen.size === 0 ? "Add" : `Add ${chosen.size}`}
        </Button>
      }
    >
      <TextField label="Find" value={find} onCommit={setFind} />
      {compositions.data ? null : <Loading what="your compositions" />}
      <Box mt="3">
        {shown.map((one, k) => (
          <Box key={one.id}>
            {shown[k - 1]?.place_id === one.place_id ? null : (
              <Box fontWeight="700" mt="2" fontSize="13px">
                {one.place_name}
              </Box>
            )}
            <Flex align="center" gap="2" minH="32px">
              <TickField label={one.name} value={chosen.has(one.id)} onCommit={(on) => turn(one.id, on)} />
              {there.has(one.id) ? (
                <Box color="muted" fontSize="12.5px">
                  in it already; added once more
                </Box>
              ) : null}
            </Flex>
          </Box>
        ))}
        {compositions.data && shown.length === 0 ? <Box color="muted">None with these words.</Box> : null}
      </Box>
    </Sheet>
  );
}
