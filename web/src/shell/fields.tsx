import { Box, chakra, Field, Input, NativeSelect, Textarea } from "@chakra-ui/react";
import { useId, useState } from "react";

interface Common {
  label: string;
  error?: string | undefined;
  hint?: string;
  width?: string;
  /** The label is only read out, where a table's heading says it already. */
  quiet?: boolean;
}

const box = {
  bg: "raised",
  borderColor: "line",
  borderRadius: "2px",
  h: "32px",
  px: "8px",
  fontSize: "14px",
  color: "ink",
} as const;

function Framed({ label, error, hint, width, quiet, children }: Common & { children: React.ReactNode }) {
  return (
    <Field.Root invalid={Boolean(error)} width={width ?? "auto"} gap="1">
      <Field.Label fontSize="12px" color="muted" fontWeight="500" lineHeight="1.2" srOnly={quiet ?? false}>
        {label}
      </Field.Label>
      {children}
      {error ? <Field.ErrorText color="rust">{error}</Field.ErrorText> : hint ? <Field.HelperText>{hint}</Field.HelperText> : null}
    </Field.Root>
  );
}

/** Text, kept on leaving the field or with Enter. */
export function TextField({
  value,
  onCommit,
  long,
  placeholder,
  ...common
}: Common & { value: string; onCommit: (value: string) => void; long?: boolean; placeholder?: string }) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    if (draft !== null && draft !== value) onCommit(draft);
    setDraft(null);
  };
  return (
    <Framed {...common}>
      {long ? (
        <Textarea
          {...box}
          h="auto"
          py="6px"
          rows={3}
          value={draft ?? value}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={commit}
          placeholder={placeholder}
        />
      ) : (
        <Input
          {...box}
          value={draft ?? value}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={commit}
          placeholder={placeholder}
          onKeyDown={(e) => e.key === "Enter" && commit()}
        />
      )}
    </Framed>
  );
}

/** A number with its unit. What is no number is told beside the field and never sent. */
export function NumberField({
  value,
  unit,
  onCommit,
  empty,
  error,
  step = 1,
  ...common
}: Common & { value: number | null; unit?: string; onCommit: (value: number | null) => void; empty?: boolean; step?: number }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string>();
  const shown = value === null ? "" : String(Number(value.toPrecision(7)));
  const commit = () => {
    if (draft === null) return;
    const text = draft.trim().replace("−", "-").replace(",", ".");
    const number = Number(text);
    if (text === "" && empty) {
      onCommit(null);
    } else if (text === "" || !Number.isFinite(number)) {
      setWrong("Give a number.");
      return;
    } else if (number !== value) {
      onCommit(number);
    }
    setWrong(undefined);
    setDraft(null);
  };
  const nudge = (by: number) => {
    if (value === null) return;
    setDraft(null);
    onCommit(Number((value + by).toPrecision(10)));
  };
  return (
    <Framed {...common} error={wrong ?? error}>
      <Box position="relative" w="100%">
        <Input
          {...box}
          inputMode="decimal"
          fontFamily="mono"
          pr={unit ? `${12 + unit.length * 8}px` : "8px"}
          value={draft ?? shown}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => {
            if (e.key === "Enter") commit();
            if (e.key === "Escape") {
              setDraft(null);
              setWrong(undefined);
            }
            if (e.key === "ArrowUp" || e.key === "ArrowDown") {
              e.preventDefault();
              nudge(e.key === "ArrowUp" ? step : -step);
            }
          }}
        />
        {unit ? (
          <Box position="absolute" right="8px" top="6px" color="muted" fontSize="13px" pointerEvents="none" aria-hidden="true">
            {unit}
          </Box>
        ) : null}
      </Box>
    </Framed>
  );
}

/** One of several. */
export function ChoiceField<T extends string>({
  value,
  options,
  onCommit,
  ...common
}: Common & { value: T; options: readonly (readonly [T, string])[]; onCommit: (value: T) => void }) {
  return (
    <Framed {...common}>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          {...box}
          value={value}
          onChange={(e) => {
            const chosen = options.find(([key]) => key === e.target.value);
            if (chosen) onCommit(chosen[0]);
          }}
        >
          {options.map(([key, text]) => (
            <option key={key} value={key}>
              {text}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Framed>
  );
}

/** Yes or no. */
export function TickField({
  label,
  value,
  quiet,
  onCommit,
}: {
  label: string;
  value: boolean;
  quiet?: boolean;
  onCommit: (value: boolean) => void;
}) {
  const id = useId();
  return (
    <chakra.label htmlFor={id} display="inline-flex" gap="2" alignItems="center" fontSize="13px" cursor="pointer" minH="24px">
      <chakra.input
        id={id}
        type="checkbox"
        checked={value}
        onChange={(e) => onCommit(e.target.checked)}
        appearance="none"
        w="16px"
        h="16px"
        borderWidth="1px"
        borderColor={value ? "moss" : "muted"}
        bg={value ? "moss" : "raised"}
        display="grid"
        placeItems="center"
        css={{
          "&:checked::after": {
            content: '""',
            width: "9px",
            height: "5px",
            borderLeft: "2px solid {colors.onMoss}",
            borderBottom: "2px solid {colors.onMoss}",
            transform: "translateY(-1px) rotate(-45deg)",
          },
        }}
      />
      {quiet ? <chakra.span srOnly>{label}</chakra.span> : label}
    </chakra.label>
  );
}

/** A row of buttons of which one is pressed. */
export function Segments<T extends string>({
  label,
  value,
  options,
  onCommit,
  tall = false,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onCommit: (value: T) => void;
  /** For thumbs in gloves. */
  tall?: boolean;
}) {
  return (
    <Box
      role="group"
      aria-label={label}
      display="inline-flex"
      borderWidth="1px"
      borderColor="line"
      bg="panel"
      maxW="100%"
      overflowX="auto"
    >
      {options.map(([key, text]) => (
        <chakra.button
          key={key}
          type="button"
          aria-pressed={key === value}
          onClick={() => onCommit(key)}
          px="10px"
          h={tall ? "48px" : "28px"}
          flexShrink="0"
          whiteSpace="nowrap"
          fontSize={tall ? "16px" : "13px"}
          fontWeight={key === value ? "700" : "400"}
          bg={key === value ? "mossFaint" : "transparent"}
          boxShadow={key === value ? "inset 0 -3px 0 {colors.moss}" : "none"}
          color="ink"
          cursor="pointer"
        >
          {text}
        </chakra.button>
      ))}
    </Box>
  );
}
