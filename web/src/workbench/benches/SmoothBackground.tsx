import { useState } from "react";

import { NumberField } from "../../shell/fields";
import { useBench } from "../context";

/** How large the background's blur disk must be at least, in percent of the frame's width; empty asks for nothing. */
export function SmoothBackground() {
  const { store, state } = useBench();
  const [wrong, setWrong] = useState(false);
  const { smooth_background } = state.draft.composition.wants;
  const shown = typeof smooth_background === "number" ? Number((smooth_background * 100).toFixed(2)) : null;
  const want = (share: number | null) => store.compose("wants", (c) => ({ wants: { ...c.wants, smooth_background: share } }));
  return (
    <NumberField
      width="142px"
      label="background blurred from"
      unit="%"
      empty
      step={1}
      value={shown}
      error={wrong ? "above 0, to 100" : undefined}
      onCommit={(v) => {
        setWrong(v !== null && !(v > 0 && v <= 100));
        if (v === null) want(null);
        else if (v > 0 && v <= 100) want(v / 100);
      }}
    />
  );
}
