import { Box, Button, Flex } from "@chakra-ui/react";

import type { LightWish } from "../../../api/types";
import { ChoiceField, NumberField, TickField } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part } from "../parts";

const SIDES = [
  ["front", "front"],
  ["side_left", "side, left"],
  ["side_right", "side, right"],
  ["back_left", "back, left"],
  ["back_right", "back, right"],
] as const;
const AROUND = [
  ["", "any time"],
  ["sunrise", "sunrise"],
  ["sunset", "sunset"],
  ["arrives", "the sun reaching the subject"],
  ["leaves", "the sun leaving the subject"],
  ["moonrise", "moonrise"],
  ["moonset", "moonset"],
] as const;
const MOON = [
  ["any", "either"],
  ["up", "up"],
  ["down", "down"],
] as const;
const LIT = [
  ["", "either"],
  ["lit", "in direct sun"],
  ["shade", "in shade"],
] as const;

/** The light that is wanted, kept with the composition. */
export function WishPart() {
  const { store, state } = useBench();
  const { light_wish: wish, elements } = state.draft.composition;
  // Each field is an undo step of its own.
  const put = (part: Partial<LightWish>) =>
    store.compose(`light wish ${Object.keys(part).join()}`, (c) => ({ light_wish: { ...c.light_wish, ...part } }));
  const litOf = (id: string | null) => wish.lit.find((one) => one.element_id === id);
  const setLit = (id: string | null, value: string) => {
    const others = wish.lit.filter((one) => one.element_id !== id);
    put({ lit: value === "" ? others : [...others, { element_id: id, lit: value === "lit" }] });
  };
  const gone = wish.lit.filter((one) => one.element_id !== null && !elements.some((e) => e.id === one.element_id));
  const solid = elements.filter((e) => e.role !== "sky").slice(0, 12);
  return (
    <Part title="The light I want">
      <Flex gap="3" wrap="wrap" align="end" mb="2" role="group" aria-label="Direction of light">
        {SIDES.map(([side, label]) => (
          <TickField
            key={side}
            label={label}
            value={wish.sides.includes(side)}
            onCommit={(on) => put({ sides: on ? [...wish.sides, side] : wish.sides.filter((one) => one !== side) })}
          />
        ))}
      </Flex>
      <Flex gap="3" wrap="wrap" align="end">
        <NumberField
          width="92px"
          label="sun from"
          unit="°"
          empty
          value={wish.lowest_deg}
          onCommit={(v) => put({ lowest_deg: v })}
        />
        <NumberField
          width="92px"
          label="sun to"
          unit="°"
          empty
          value={wish.highest_deg}
          onCommit={(v) => put({ highest_deg: v })}
        />
        <NumberField
          width="92px"
          label="clock from"
          unit="h"
          value={wish.from_hour}
          onCommit={(v) => v !== null && put({ from_hour: v })}
        />
        <NumberField
          width="92px"
          label="clock to"
          unit="h"
          value={wish.to_hour}
          onCommit={(v) => v !== null && put({ to_hour: v })}
        />
        <NumberField
          width="100px"
          label="at least"
          unit="min"
          step={5}
          value={wish.shortest_min}
          onCommit={(v) => v !== null && put({ shortest_min: v })}
        />
        <NumberField
          width="110px"
          label="be there before"
          unit="min"
          step={5}
          value={wish.ready_min}
          onCommit={(v) => v !== null && put({ ready_min: v })}
        />
      </Flex>
      <Flex gap="3" wrap="wrap" align="end" mt="2">
        <ChoiceField
          width="200px"
          label="around"
          value={wish.around ?? ""}
          options={AROUND}
          onCommit={(v) => put({ around: v === "" ? null : v })}
        />
        {wish.around ? (
          <>
            <NumberField
              width="92px"
              label="minutes before"
              unit="min"
              step={5}
              value={wish.before_min}
              onCommit={(v) => v !== null && put({ before_min: v })}
            />
            <NumberField
              width="92px"
              label="minutes after"
              unit="min"
              step={5}
              value={wish.after_min}
              onCommit={(v) => v !== null && put({ after_min: v })}
            />
          </>
        ) : null}
        <ChoiceField width="92px" label="moon" value={wish.moon} options={MOON} onCommit={(moon) => put({ moon })} />
        <NumberField
          width="100px"
          label="moon lit from"
          unit="%"
          step={10}
          value={Math.round(wish.moon_lit_from * 100)}
          onCommit={(v) => v !== null && put({ moon_lit_from: v / 100 })}
        />
      </Flex>
      <Flex gap="3" wrap="wrap" align="end" mt="2">
        <ChoiceField
          width="132px"
          label="standpoint"
          value={litOf(null) ? (litOf(null)?.lit ? "lit" : "shade") : ""}
          options={LIT}
          onCommit={(v) => setLit(null, v)}
        />
        {solid.map((e) => {
          const now = litOf(e.id);
          return (
            <ChoiceField
              key={e.id}
              width="132px"
              label={e.name}
              value={now ? (now.lit ? "lit" : "shade") : ""}
              options={LIT}
              onCommit={(v) => setLit(e.id, v)}
            />
          );
        })}
        {gone.length > 0 ? (
          <Button variant="outline" onClick={() => put({ lit: wish.lit.filter((one) => !gone.includes(one)) })}>
            Take away what is asked of things that are gone
          </Button>
        ) : null}
        <Box flex="1" />
        <Button
          onClick={() =>
            put({
              sides: [],
              lowest_deg: null,
              highest_deg: null,
              lit: [],
              around: null,
              moon: "any",
              moon_lit_from: 0,
              from_hour: 0,
              to_hour: 24,
            })
          }
        >
          Ask for nothing
        </Button>
      </Flex>
    </Part>
  );
}
