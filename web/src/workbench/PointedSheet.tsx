import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";

import { api, ask } from "../api/client";
import { ChoiceField, NumberField, TextField } from "../shell/fields";
import { Loading } from "../shell/states";
import { Sheet } from "../shell/Sheet";
import { SILHOUETTES } from "./benches/frame/silhouettes";
import { useBench } from "./context";
import { newElement, type Shape, usual } from "./elements";

const SightMap = lazy(() => import("../map/SightMap"));

/** What stands where the view was pressed: what it is, and how far off. */
export function PointedSheet({ x, y, onClose }: { x: number; y: number; onClose: () => void }) {
  const { store, state, select } = useBench();
  const found = useQuery({
    queryKey: ["pointed", store.id, state.revision, x, y],
    queryFn: async () => {
      const scene = store.scene;
      return scene ? ask(api.POST("/api/point", { body: { scene, changes: [], x, y } })) : null;
    },
  });
  const [silhouette, setSilhouette] = useState<Shape>("boulder");
  const [name, setName] = useState<string>();
  const [distance, setDistance] = useState<number | null>(null);
  const shape = SILHOUETTES.find(([key]) => key === silhouette)?.[1] ?? silhouette;
  const [onMap, setOnMap] = useState(false);
  const likely = found.data?.terrain_m ?? found.data?.distance_m ?? null;
  const add = () => {
    const composition = store.snapshot().draft.composition;
    const made = { ...newElement(composition), silhouette, name: name ?? shape, ...usual(silhouette) };
    store.compose("add element", (c) => ({ elements: [...c.elements, made] }));
    store.act(`point ${made.id}`, {
      kind: "point_element",
      element_id: made.id,
      x,
      y,
      distance_m: distance ?? likely,
      fresh: true,
    });
    select(made.id);
    onClose();
  };
  return (
    <Sheet
      title="What stands here?"
      open
      onClose={onClose}
      footer={
        <Button variant="solid" size="md" disabled={found.isPending} onClick={add}>
          Put it in
        </Button>
      }
    >
      <Flex direction="column" gap="3">
        <ChoiceField label="drawn as" value={silhouette} options={SILHOUETTES} onCommit={setSilhouette} />
        <TextField label="name" value={name ?? shape} onCommit={setName} />
        <NumberField
          label="distance"
          unit="m"
          step={1}
          empty
          value={distance ?? (likely === null ? null : Number(likely.toPrecision(3)))}
          hint={found.data ? `${found.data.text}.` : "Looking along the sight …"}
          onCommit={setDistance}
        />
        {found.data ? (
          <Button alignSelf="start" aria-expanded={onMap} onClick={() => setOnMap(!onMap)}>
            {onMap ? "Without the map" : "Take the distance from the map"}
          </Button>
        ) : null}
        {onMap && found.data ? (
          <Suspense fallback={<Loading what="the map" />}>
            <SightMap pointed={found.data} distance={distance ?? likely} onPick={setDistance} />
          </Suspense>
        ) : null}
        <Box fontSize="12.5px" color="muted">
          Below the horizon the press is its foot, above it its top. Drag foot, top and side in the view afterwards.
        </Box>
      </Flex>
    </Sheet>
  );
}
