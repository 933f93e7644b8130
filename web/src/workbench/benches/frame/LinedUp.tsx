import { chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../../../api/client";
import type { PhotographAim, PhotographOut } from "../../../api/types";
import { NumberField } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part } from "../parts";
import type { Known } from "./Marked";
import { Measuring } from "./Measuring";

/** The photograph under the view: how much it shows, where it looks, and what is marked in it. */
export function LinedUp({ photograph }: { photograph: PhotographOut }) {
  const { store, state } = useBench();
  const under = state.draft.composition.underlay;
  const [trouble, setTrouble] = useState<string>();
  if (!under) return null;
  const put = (part: Partial<typeof under>) =>
    store.compose(`underlay ${Object.keys(part).join()}`, (c) => ({ underlay: c.underlay ? { ...c.underlay, ...part } : null }));
  const aim: PhotographAim = {
    azimuth_deg: under.azimuth_deg,
    pitch_deg: under.pitch_deg,
    roll_deg: under.roll_deg,
    view_deg: under.view_deg,
    aspect: under.aspect,
  };
  const fit = async (knowns: Known[]) => {
    const scene = store.scene;
    if (!scene) return;
    try {
      setTrouble(undefined);
      const found = await ask(
        api.POST("/api/aim", {
          body: {
            scene,
            changes: [],
            aspect: under.aspect,
            view_deg: knowns.length < 2 ? under.view_deg : null,
            places: knowns.map((one) => ({ ...one, part: "foot" as const })),
          },
        }),
      );
      put({ azimuth_deg: found.azimuth_deg, pitch_deg: found.pitch_deg, roll_deg: found.roll_deg, view_deg: found.view_deg });
    } catch (error) {
      setTrouble(wordsOf(problemOf(error)));
    }
  };
  return (
    <>
      <Measuring photograph={photograph} aim={aim} fit={(knowns) => void fit(knowns)} trouble={trouble} />
      <Part title="Under the view">
        <Flex gap="3" wrap="wrap" align="end">
          <chakra.label fontSize="12px" color="muted" display="grid" gap="1">
            drawing over photograph
            <chakra.input
              type="range"
              min="0"
              max="100"
              value={Math.round(under.opacity * 100)}
              onChange={(e) => put({ opacity: Number(e.target.value) / 100 })}
              aria-label="How much of the photograph shows"
              w="170px"
              accentColor="moss"
              h="32px"
            />
          </chakra.label>
          <NumberField
            width="112px"
            label="aimed at"
            unit="°"
            value={under.azimuth_deg}
            onCommit={(v) => v !== null && put({ azimuth_deg: v })}
          />
          <NumberField
            width="96px"
            label="pitched"
            unit="°"
            step={0.5}
            value={under.pitch_deg}
            onCommit={(v) => v !== null && put({ pitch_deg: v })}
          />
          <NumberField
            width="96px"
            label="rolled"
            unit="°"
            step={0.5}
            value={under.roll_deg}
            onCommit={(v) => v !== null && put({ roll_deg: v })}
          />
          <NumberField
            width="112px"
            label="field of view"
            unit="°"
            value={under.view_deg}
            onCommit={(v) => v !== null && put({ view_deg: v })}
          />
          <NumberField
            width="150px"
            label="or taken with (35 mm eq.)"
            unit="mm"
            empty
            value={null}
            onCommit={(v) => v !== null && store.act("photograph lens", { kind: "photograph_lens", equivalent_mm: v })}
          />
        </Flex>
      </Part>
    </>
  );
}
