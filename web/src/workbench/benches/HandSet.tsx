import { useState } from "react";

import { TextField } from "../../shell/fields";
import { useBench } from "../context";

/** A focus from here on is told as infinity. */
export const FARTHEST_M = 100_000;
const MOST_STOPS = 15;

/** Numbers typed as a list; null where one of them is none, or outside. */
function parseList(text: string, fits: (n: number) => boolean): number[] | null {
  const parts = text
    .replaceAll("−", "-")
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map((part) => (part === "∞" || part === "inf" ? FARTHEST_M : Number(part)));
  return parts.length > 0 && parts.every((n) => Number.isFinite(n) && fits(n)) ? parts : null;
}

/** Metres to the millimetre, the very far as infinity. */
const metres = (m: number) => (m >= FARTHEST_M ? "∞" : String(Number(m.toFixed(3))));

/** Foci as a list; a changed list is taken as set by hand. */
export function HandFoci({ foci, label = "focus at, metres from the lens" }: { foci: readonly number[]; label?: string }) {
  const { store } = useBench();
  const [wrong, setWrong] = useState<string>();
  return (
    <TextField
      label={label}
      value={foci.map(metres).join(", ")}
      placeholder="0.7, 1.4, 5"
      error={wrong}
      onCommit={(text) => {
        const parsed = parseList(text, (n) => n > 0.002 && n <= FARTHEST_M);
        setWrong(parsed ? undefined : "Give distances in metres, for example 0.7, 1.4, 5.");
        if (parsed) store.act("slices", { kind: "slices", mode: "manual", foci_m: parsed });
      }}
    />
  );
}

/** Exposures as a list of stops from the base; a changed list is taken as set by hand. */
export function HandOffsets({
  offsets,
  label = "frames, stops from the base exposure",
}: {
  offsets: readonly number[];
  label?: string;
}) {
  const { store } = useBench();
  const [wrong, setWrong] = useState<string>();
  return (
    <TextField
      label={label}
      width="260px"
      value={offsets.map((stops) => Number(stops.toFixed(2))).join(", ")}
      placeholder="-2, 0, 2"
      error={wrong}
      onCommit={(text) => {
        const parsed = parseList(text, (n) => Math.abs(n) <= MOST_STOPS);
        setWrong(parsed ? undefined : "Give stops, for example -2, 0, 2.");
        if (parsed) store.act("bracket", { kind: "bracket", mode: "manual", offsets_stops: parsed });
      }}
    />
  );
}
