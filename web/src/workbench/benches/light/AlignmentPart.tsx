import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../../../api/client";
import type { Alignment, Passing, PlaceOut } from "../../../api/types";
import { ChoiceField, NumberField, Segments } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part } from "../parts";
import { saveCalendar } from "./calendar";

const QUARTER_MS = 15 * 60_000;

/** When sun or moon stands beside an element, in a notch of the skyline, or at a bearing and height. */
export function AlignmentPart({ place, onMoment }: { place: PlaceOut | undefined; onMoment: (utc: string) => void }) {
  const { store, state } = useBench();
  const { elements, azimuth_deg } = state.draft.composition;
  const [wish, setWish] = useState<Alignment>({
    body: "moon",
    element_id: null,
    beside_deg: 0,
    above_deg: 0,
    bearing_deg: Math.round(azimuth_deg),
    height_deg: null,
    tolerance_deg: 1,
    moon_lit_from: 0.9,
  });
  const put = (part: Partial<Alignment>) => setWish((now) => ({ ...now, ...part }));
  const search = useMutation({
    mutationFn: async () => {
      if (!store.scene) throw new Error("no scene");
      return await ask(api.POST("/api/light/alignments", { body: { scene: store.scene, changes: [], wish } }));
    },
  });
  const solid = elements.filter((e) => e.role !== "sky" && e.role !== "water");
  const save = (passings: readonly Passing[]) => {
    if (!place) return;
    const entries = passings.map((one) => ({
      title: `${state.draft.name}: ${wish.body} ${search.data?.target_text ?? ""}`.slice(0, 200),
      start_utc: one.at_utc,
      end_utc: new Date(Date.parse(one.at_utc) + QUARTER_MS).toISOString(),
      ready_utc: new Date(Date.parse(one.at_utc) - 2 * QUARTER_MS).toISOString(),
      notes: `${one.going}, ${one.where_text}, ${one.miss_text}`,
    }));
    void saveCalendar(place, entries, ["time", "times"]);
  };
  return (
    <Part title="Sun or moon in its place">
      <Flex gap="3" wrap="wrap" align="end">
        <Segments
          label="which"
          value={wish.body}
          options={
            [
              ["sun", "sun"],
              ["moon", "moon"],
            ] as const
          }
          onCommit={(body) => put({ body })}
        />
        <ChoiceField
          width="170px"
          label="at"
          value={wish.element_id ?? ""}
          options={[["", "a bearing"], ...solid.map((e) => [e.id, `top of ${e.name}`] as const)]}
          onCommit={(id) => put({ element_id: id === "" ? null : id })}
        />
        {wish.element_id === null ? (
          <>
            <NumberField
              width="92px"
              label="bearing"
              unit="°"
              value={wish.bearing_deg}
              onCommit={(v) => v !== null && put({ bearing_deg: v })}
            />
            <NumberField
              width="130px"
              label="height, or skyline"
              unit="°"
              empty
              value={wish.height_deg}
              onCommit={(v) => put({ height_deg: v })}
            />
          </>
        ) : (
          <>
            <NumberField
              width="104px"
              label="to the right"
              unit="°"
              step={0.5}
              value={wish.beside_deg}
              onCommit={(v) => v !== null && put({ beside_deg: v })}
            />
            <NumberField
              width="92px"
              label="above"
              unit="°"
              step={0.5}
              value={wish.above_deg}
              onCommit={(v) => v !== null && put({ above_deg: v })}
            />
          </>
        )}
        <NumberField
          width="92px"
          label="within"
          unit="°"
          step={0.25}
          value={wish.tolerance_deg}
          onCommit={(v) => v !== null && put({ tolerance_deg: v })}
        />
        {wish.body === "moon" ? (
          <NumberField
            width="100px"
            label="lit from"
            unit="%"
            step={10}
            value={Math.round(wish.moon_lit_from * 100)}
            onCommit={(v) => v !== null && put({ moon_lit_from: v / 100 })}
          />
        ) : null}
        <Button variant="outline" loading={search.isPending} onClick={() => search.mutate()}>
          Find
        </Button>
      </Flex>
      {search.isError ? (
        <Box role="alert" color="rust" mt="1">
          {wordsOf(problemOf(search.error))}
        </Box>
      ) : null}
      {search.data ? (
        <Box mt="2" data-testid="alignments">
          <Flex align="center" gap="3">
            <Box flex="1">
              {search.data.count === 0
                ? search.data.nearest_text
                : `${search.data.count} times in these months, ${search.data.target_text}:`}
            </Box>
            {search.data.count > 0 ? <Button onClick={() => save(search.data.passings)}>To a calendar</Button> : null}
          </Flex>
          {search.data.passings.map((one) => (
            <chakra.button
              key={one.at_utc}
              type="button"
              w="100%"
              textAlign="left"
              cursor="pointer"
              py="4px"
              display="grid"
              gridTemplateColumns="170px 84px 1fr"
              columnGap="2"
              borderBottomWidth="1px"
              borderColor="line"
              _hover={{ bg: "mossFaint" }}
              onClick={() => onMoment(one.at_utc)}
            >
              <Box>{one.date_text}</Box>
              <Box fontFamily="mono">{one.time_text}</Box>
              <Box fontSize="12.5px" color="muted">
                {one.going}, {one.where_text}, {one.miss_text}
                {one.lit === null ? "" : `, ${Math.round(one.lit * 100)}% lit, ${one.sun_text}`}
                {one.x === null ? ", outside the frame" : ", in the frame"}
              </Box>
            </chakra.button>
          ))}
        </Box>
      ) : null}
      <Box fontSize="12px" color="muted" mt="2">
        Never look at the sun through a viewfinder or a long lens, and do not point one at it for long.
      </Box>
    </Part>
  );
}
