import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask, problemOf } from "../../../api/client";
import { queryClient } from "../../../api/queries";
import type { Card, Composition, Evaluation, FramingReport, Try, VariantOut } from "../../../api/types";
import { View } from "../../../instruments/View";
import { TextField, TickField } from "../../../shell/fields";
import { notify } from "../../../shell/notices";
import { useUnits } from "../../../shell/units";
import { useBench } from "../../context";
import type { Draft } from "../../scene";
import { Part } from "../parts";
import { HELD } from "../../held";
import { freshId } from "../../../shell/freshId";

const ROWS: readonly (readonly [string, (card: Card) => string])[] = [
  ["lens", (c) => c.lens],
  ["camera height", (c) => c.height.text],
  ["settings", (c) => c.settings],
  ["takes in", (c) => c.view.text],
  ["pixels", (c) => c.pixels.text],
  ["sky", (c) => c.sky.text],
  ["foreground", (c) => c.foreground.text],
  ["worst blur", (c) => c.worst_blur.text],
  ["frames", (c) => `${c.frames.text}, ${c.takes.text}`],
  ["breaks", (c) => c.tensions.join("; ") || "nothing"],
  ["meets", (c) => c.meetings.join(" ") || "all clear"],
];

const key = (id: string, units: string) => ["variants", id, units];

/** Several tries of one composition as small pictures: keep, compare, promote one. */
export function Tries({ made }: { made: Evaluation }) {
  const { store, state } = useBench();
  const units = useUnits();
  const [tries, setTries] = useState<Try[]>();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const kept = useQuery({
    queryKey: key(store.id, units),
    queryFn: async () =>
      (await ask(api.GET("/api/compositions/{id}/variants", { params: { path: { id: store.id }, query: { units } } }))).variants,
  });
  const refresh = () => void queryClient.invalidateQueries({ queryKey: ["variants", store.id] });
  const look = useMutation({
    mutationFn: async () => {
      const scene = store.scene;
      if (!scene) throw new Error("The composition is not complete.");
      return (await ask(api.POST("/api/tries", { body: { scene, changes: [] } }))).tries;
    },
    onSuccess: setTries,
    onError: (error) => notify({ title: "The tries could not be made", detail: problemOf(error).detail, kind: "trouble" }),
  });
  const keep = useMutation({
    mutationFn: async ({ name, draft, composition }: { name: string; draft: Draft; composition: Composition }) =>
      ask(
        api.POST("/api/compositions/{id}/variants", {
          params: { path: { id: store.id } },
          body: {
            id: freshId(),
            name,
            body_id: draft.body_id,
            lens_id: draft.lens_id,
            support_id: draft.support_id,
            composition,
          },
        }),
      ),
    onSuccess: refresh,
    onError: (error) => notify({ title: "The variant was not kept", detail: problemOf(error).detail, kind: "trouble" }),
  });
  const remove = async (variant: VariantOut) => {
    try {
      await ask(api.DELETE("/api/variants/{id}", { params: { path: { id: variant.id } } }));
      notify({
        title: `${variant.name} removed`,
        undo: () => void ask(api.POST("/api/variants/{id}/restore", { params: { path: { id: variant.id } } })).then(refresh),
      });
      refresh();
    } catch (error) {
      notify({ title: "The variant was not removed", detail: problemOf(error).detail, kind: "trouble" });
    }
  };
  const keepTry = async (one: Try) => {
    const scene = store.scene;
    if (!scene) return;
    try {
      const after = await ask(api.POST("/api/evaluate", { body: { scene, changes: one.changes } }));
      keep.mutate({ name: one.name, draft: state.draft, composition: after.composition });
    } catch (error) {
      notify({ title: "The variant was not kept", detail: problemOf(error).detail, kind: "trouble" });
    }
  };
  const promote = (variant: VariantOut) => {
    // What stood here before is kept beside the others, and undo brings it back too.
    const { draft } = state;
    keep.mutate({ name: `before ${variant.name}`.slice(0, 80), draft, composition: draft.composition });
    store.edit("promote", (d) => ({
      ...d,
      body_id: variant.body_id,
      lens_id: variant.lens_id,
      support_id: variant.support_id,
      composition: variant.composition,
    }));
    notify({
      title: `${variant.name} is the composition now`,
      detail: "What it was before is kept as a variant.",
      undo: () => store.undo(),
    });
  };
  const variants = kept.data ?? [];
  const compared = variants.filter((one) => chosen.has(one.id) && one.card);
  const toggle = (id: string) => setChosen((now) => new Set(now.has(id) ? [...now].filter((one) => one !== id) : [...now, id]));
  return (
    <>
      <Part
        title={`Kept variants: ${variants.length}`}
        side={
          <Button
            variant="outline"
            loading={keep.isPending}
            onClick={() =>
              keep.mutate({ name: nameFor(state.draft.composition), draft: state.draft, composition: state.draft.composition })
            }
          >
            Keep it as it is now
          </Button>
        }
      >
        {kept.isError ? (
          <Box role="alert" color="rust">
            {problemOf(kept.error).detail}
          </Box>
        ) : null}
        {variants.length === 0 && !kept.isPending ? (
          <Box color="muted">Nothing kept yet. Keep the picture as it is, try others below, tick two or more to compare.</Box>
        ) : null}
        <Box display="grid" gridTemplateColumns="repeat(auto-fill, minmax(168px, 1fr))" gap="3">
          {variants.map((variant) => (
            <Box
              key={variant.id}
              data-testid="variant"
              bg="raised"
              borderWidth="1px"
              borderColor={chosen.has(variant.id) ? "moss" : "line"}
              p="2"
            >
              <Box h="112px">
                {variant.card ? (
                  <View framing={variant.card.picture} small label={variant.name} />
                ) : (
                  <Box color="rust">{variant.problem}</Box>
                )}
              </Box>
              <TextField
                label="name"
                value={variant.name}
                onCommit={(name) =>
                  void ask(
                    api.PUT("/api/variants/{id}", {
                      params: { path: { id: variant.id } },
                      body: { version: variant.version, name },
                    }),
                  ).then(refresh, (error: unknown) =>
                    notify({ title: "Not renamed", detail: problemOf(error).detail, kind: "trouble" }),
                  )
                }
              />
              <Box fontSize="12px" color="muted" fontFamily="mono" my="1">
                {variant.card ? `${variant.card.lens}, ${variant.card.height.text} up` : ""}
              </Box>
              <TickField label="compare" value={chosen.has(variant.id)} onCommit={() => toggle(variant.id)} />
              <Flex gap="1" align="center">
                <Button onClick={() => promote(variant)} aria-label={`Promote ${variant.name}`}>
                  Promote
                </Button>
                <Button variant="ghost" onClick={() => void remove(variant)} aria-label={`Remove ${variant.name}`}>
                  Remove
                </Button>
              </Flex>
            </Box>
          ))}
        </Box>
      </Part>
      {compared.length > 0 ? <Comparison variants={compared} now={made.framing} /> : null}
      <Part
        title="What people commonly try"
        side={
          <Button variant="outline" loading={look.isPending} onClick={() => look.mutate()}>
            {tries ? "Try again from here" : "Show the tries"}
          </Button>
        }
      >
        {tries ? null : (
          <Box color="muted">The other orientation, lower, higher, wide, long, and crops, made from the picture as it is now.</Box>
        )}
        <Box display="grid" gridTemplateColumns="repeat(auto-fill, minmax(168px, 1fr))" gap="3">
          {(tries ?? []).map((one) => (
            <Box
              key={one.name}
              data-testid={`try-${one.name.replaceAll(" ", "-")}`}
              bg="raised"
              borderWidth="1px"
              borderColor="line"
              p="2"
            >
              <Box h="112px">
                <View framing={one.card.picture} small label={one.name} />
              </Box>
              <Box fontWeight="700" fontSize="13.5px" mt="1">
                {one.name}
              </Box>
              <Box fontSize="12px" color="muted" fontFamily="mono">
                {one.card.lens}, {one.card.height.text} up
              </Box>
              <Box fontSize="12px" color={one.card.tensions.length > 0 ? "rust" : "muted"} mb="1">
                {one.card.tensions.length > 0 ? `breaks ${one.card.tensions.length}` : "breaks nothing"}, {one.card.pixels.text}
              </Box>
              <Flex gap="1">
                <Button onClick={() => void keepTry(one)} aria-label={`Keep ${one.name}`}>
                  Keep
                </Button>
                <Button variant="ghost" onClick={() => store.act("try", ...one.changes)} aria-label={`Go to ${one.name}`}>
                  Go there
                </Button>
              </Flex>
            </Box>
          ))}
        </Box>
      </Part>
    </>
  );
}

function nameFor(composition: Composition) {
  return `${HELD[composition.orientation]}, ${composition.settings.focal_length_mm} mm`;
}

function Comparison({ variants, now }: { variants: VariantOut[]; now: FramingReport }) {
  return (
    <Part title={`Side by side: ${variants.length}`}>
      <Box overflowX="auto">
        <chakra.table
          fontSize="13px"
          w="100%"
          css={{
            borderCollapse: "collapse",
            "& th, & td": { textAlign: "left", verticalAlign: "top", padding: "4px 8px", borderTop: "1px solid {colors.line}" },
          }}
          data-testid="comparison"
        >
          <thead>
            <tr>
              <th scope="col">
                <Box as="span" srOnly>
                  what
                </Box>
              </th>
              {variants.map((one) => (
                <th key={one.id} scope="col">
                  <Box w="150px" h="100px">
                    <View framing={one.card?.picture ?? now} small label={one.name} />
                  </Box>
                  {one.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ROWS.map(([name, of]) => (
              <tr key={name}>
                <chakra.th scope="row" color="muted" fontWeight="500">
                  {name}
                </chakra.th>
                {variants.map((one) => (
                  <chakra.td key={one.id} fontFamily={name === "breaks" || name === "meets" ? "body" : "mono"}>
                    {one.card ? of(one.card) : ""}
                  </chakra.td>
                ))}
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
    </Part>
  );
}
