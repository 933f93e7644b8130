import { Field, Input } from "@chakra-ui/react";
import { useState } from "react";

import type { OutingSpot } from "../api/types";
import { ChoiceField } from "../shell/fields";
import { sameSpot } from "./outingActs";

const box = {
  bg: "raised",
  borderColor: "line",
  borderRadius: "2px",
  h: "32px",
  px: "8px",
  fontSize: "14px",
  color: "ink",
  fontFamily: "mono",
} as const;

/** A date or a time of day, kept on leaving the field or with Enter; what is unfinished is not sent. */
export function WhenField({
  label,
  type,
  value,
  onCommit,
  error,
  width = "auto",
}: {
  label: string;
  type: "date" | "time";
  value: string;
  onCommit: (value: string) => void;
  error?: string | undefined;
  width?: string;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const shown = type === "time" ? value.slice(0, 5) : value;
  const [wrong, setWrong] = useState("");
  const commit = () => {
    const whole = draft === null || (type === "date" ? /^\d{4}-\d\d-\d\d$/ : /^\d\d:\d\d/).test(draft);
    setWrong(whole ? "" : type === "date" ? "Give a day like 5 December 2026." : "Give a time like 05:30.");
    if (!whole) return;
    if (draft && draft !== shown) onCommit(draft.length === 5 ? `${draft}:00` : draft);
    setDraft(null);
  };
  return (
    <Field.Root invalid={Boolean(wrong || error)} width={width} gap="1">
      <Field.Label fontSize="12px" color="muted" fontWeight="500" lineHeight="1.2">
        {label}
      </Field.Label>
      <Input
        {...box}
        type={type}
        value={draft ?? shown}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => e.key === "Enter" && commit()}
      />
      {wrong || error ? <Field.ErrorText color="rust">{wrong || error}</Field.ErrorText> : null}
    </Field.Root>
  );
}

/** One of the spots that are known: car parks, gates, places. */
export function SpotField({
  label,
  value,
  spots,
  none,
  onCommit,
  width,
}: {
  label: string;
  value: OutingSpot | null;
  spots: readonly OutingSpot[];
  /** What choosing none of them means. */
  none?: string;
  onCommit: (spot: OutingSpot | null) => void;
  width?: string;
}) {
  const known = value && !spots.some((one) => sameSpot(one, value)) ? [value, ...spots] : spots;
  const at = value ? known.findIndex((one) => sameSpot(one, value)) : -1;
  return (
    <ChoiceField
      label={label}
      value={String(at)}
      {...(width ? { width } : {})}
      options={[...(none ? [["-1", none] as const] : []), ...known.map((one, k) => [String(k), one.name] as const)]}
      onCommit={(key) => onCommit(known[Number(key)] ?? null)}
    />
  );
}
