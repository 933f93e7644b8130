import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ApiError, ask } from "../api/client";
import { renew } from "../api/queries";
import type { Body, KitItemOut } from "../api/types";
import { ChoiceField, NumberField, TextField, TickField } from "../shell/fields";
import { More } from "../shell/More";
import { Sheet } from "../shell/Sheet";
import { FIELDS, type Kind, KINDS, KNOWN, type Spec } from "./fields";

type Details = KitItemOut["item"]["details"];
type Modes = Body["bracket_modes"];

/** Bracket modes as typed: 3 × 2, 5 × 1. */
function parseModes(text: string): Modes | null {
  const made: Modes = [];
  for (const part of text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean)) {
    const match = /^(\d+)\s*[x×*]\s*(\d+(?:\.\d+)?)$/i.exec(part);
    if (!match) return null;
    made.push({ frames: Number(match[1]), step_stops: Number(match[2]) });
  }
  return made;
}

const FIRM = "firm ground";
const OWN = "rates of your own";

/** Ground that moves, with usual rates to start from. */
function StandsOn({
  rocking,
  drift,
  onChoose,
}: {
  rocking: number;
  drift: number;
  onChoose: (rates: { rocking_deg_s: number; drift_deg_s: number }) => void;
}) {
  const usual = useQuery({
    queryKey: ["moving-ground"],
    queryFn: () => ask(api.GET("/api/kit/moving-ground")),
    staleTime: Infinity,
  });
  const kinds = usual.data?.kinds ?? [];
  const found = kinds.find((one) => one.rocking_deg_s === rocking && one.drift_deg_s === drift)?.name;
  const names = [FIRM, ...kinds.map((one) => one.name), OWN];
  return (
    <ChoiceField
      width="240px"
      label="stands on (usual rates; measure your own)"
      value={found ?? (rocking === 0 && drift === 0 ? FIRM : OWN)}
      options={names.map((name) => [name, name] as const)}
      onCommit={(name) => {
        const chosen = kinds.find((one) => one.name === name);
        if (chosen) onChoose({ rocking_deg_s: chosen.rocking_deg_s, drift_deg_s: chosen.drift_deg_s });
        else if (name === FIRM) onChoose({ rocking_deg_s: 0, drift_deg_s: 0 });
      }}
    />
  );
}

/** Add or change an item; the server's field errors stand beside the fields. */
export function KitSheet({ saved, kind, start, onClose }: { saved?: KitItemOut; kind: Kind; start: Details; onClose: () => void }) {
  const [draft, setDraft] = useState<Record<string, unknown>>({ ...start });
  const [modesWrong, setModesWrong] = useState<string>();
  const save = useMutation({
    mutationFn: async (version: number) => {
      const item = { kind, details: draft } as unknown as KitItemOut["item"];
      return saved
        ? ask(api.PUT("/api/kit/{id}", { params: { path: { id: saved.id } }, body: { version, item } }))
        : ask(api.POST("/api/kit", { body: { item } }));
    },
    onSuccess: () => {
      void renew("kit");
      onClose();
    },
  });
  const error = save.error instanceof ApiError ? save.error : null;
  const current =
    error?.problem.status === 409 ? (error.problem as unknown as { current_version: number }).current_version : undefined;
  const at = (key: string) => error?.field(`/details/${key}`);
  const put = (key: string, value: unknown) => setDraft((now) => ({ ...now, [key]: value }));
  const modes = (draft["bracket_modes"] as Modes | undefined)?.map((m) => `${m.frames} × ${m.step_stops}`).join(", ");
  const known = new Set([...FIELDS[kind].map((one) => one.key), "name"]);
  const others = error?.problem.errors.filter((one) => !known.has(one.pointer.split("/").at(-1) ?? "")) ?? [];
  const asked = FIELDS[kind].filter((spec) => spec.type !== "number" || !spec.only || spec.only.includes(String(draft["kind"])));
  const isKnown = (spec: Spec) => KNOWN[kind].includes(spec.key);
  const field = (spec: Spec) => {
    const value = draft[spec.key];
    if (spec.type === "choice")
      return (
        <ChoiceField
          key={spec.key}
          width="200px"
          label={spec.label}
          value={String(value)}
          options={spec.options}
          error={at(spec.key)}
          onCommit={(one) => put(spec.key, spec.whole ? Number(one) : one)}
        />
      );
    if (spec.type === "text")
      return (
        <TextField
          key={spec.key}
          width="240px"
          label={spec.label}
          value={String(value ?? "")}
          error={at(spec.key)}
          onCommit={(one) => put(spec.key, one)}
        />
      );
    if (spec.type === "tick")
      return <TickField key={spec.key} label={spec.label} value={Boolean(value)} onCommit={(on) => put(spec.key, on)} />;
    return (
      <NumberField
        key={spec.key}
        width="190px"
        {...(spec.empty ? { empty: true } : {})}
        label={spec.label}
        {...(spec.unit ? { unit: spec.unit } : {})}
        step={spec.step ?? 1}
        value={typeof value === "number" ? value : null}
        error={at(spec.key)}
        onCommit={(one) => put(spec.key, one)}
      />
    );
  };
  return (
    <Sheet
      title={saved ? `Edit ${saved.item.details.name}` : `Add ${KINDS.find(([k]) => k === kind)?.[2] ?? kind}`}
      open
      onClose={onClose}
      wide
      footer={
        <Button variant="solid" size="md" loading={save.isPending} onClick={() => save.mutate(current ?? saved?.version ?? 1)}>
          {current ? "Save mine over it" : "Save"}
        </Button>
      }
    >
      <Flex direction="column" gap="3">
        <TextField label="name" value={String(draft["name"] ?? "")} error={at("name")} onCommit={(name) => put("name", name)} />
        <Flex gap="3" wrap="wrap" align="end">
          {asked.filter(isKnown).map(field)}
        </Flex>
        <More title="More, with usual values" open={asked.some((spec) => !isKnown(spec) && at(spec.key)) || Boolean(modesWrong)}>
          <Flex gap="3" wrap="wrap" align="end">
            {asked.filter((spec) => !isKnown(spec)).map(field)}
          </Flex>
          {kind === "support" ? (
            <StandsOn
              rocking={Number(draft["rocking_deg_s"])}
              drift={Number(draft["drift_deg_s"])}
              onChoose={(rates) => setDraft((now) => ({ ...now, ...rates }))}
            />
          ) : null}
          {kind === "body" ? (
            <TextField
              label="bracket modes, frames × stops"
              value={modes ?? ""}
              error={modesWrong}
              placeholder="3 × 2, 5 × 1"
              onCommit={(text) => {
                const parsed = parseModes(text);
                setModesWrong(parsed ? undefined : "Write frames × stops, separated by commas: 3 × 2, 5 × 1.");
                if (parsed) put("bracket_modes", parsed);
              }}
            />
          ) : null}
        </More>
        {error && (others.length > 0 || error.problem.errors.length === 0) ? (
          <Box role="alert" color="rust">
            {error.problem.title}. {others.length > 0 ? others.map((one) => one.message).join(" ") : error.problem.detail}
          </Box>
        ) : null}
      </Flex>
    </Sheet>
  );
}
