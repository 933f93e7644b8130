import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import type { Outing, ReadinessShown } from "../api/types";
import { NumberField, Segments, TextField } from "../shell/fields";
import { More } from "../shell/More";
import { Loading } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { FilesMenu } from "./FilesMenu";
import { FromBoard, type Held, NotPlanned, OnOuting, Saved } from "./OnOuting";
import { usePlan } from "./usePlan";

type Line = ReadinessShown["groups"][number]["lines"][number];
type Mode = "pack" | "back";

/** A line to tick with a cold thumb: the whole of it is the box. */
function PackLine({ line, on, mode, onTurn }: { line: Line; on: boolean; mode: Mode; onTurn: () => void }) {
  return (
    <chakra.button
      type="button"
      role="checkbox"
      aria-checked={on}
      onClick={onTurn}
      display="flex"
      w="100%"
      minH="56px"
      gap="3"
      py="2"
      alignItems="center"
      textAlign="left"
      borderBottomWidth="1px"
      borderColor="line"
      cursor="pointer"
    >
      <Box
        w="32px"
        h="32px"
        flexShrink="0"
        borderWidth="2px"
        borderColor={on ? (mode === "back" ? "rust" : "moss") : "muted"}
        bg={on ? (mode === "back" ? "rust" : "moss") : "raised"}
        color={mode === "back" ? "onRust" : "onMoss"}
        display="grid"
        placeItems="center"
      >
        {on ? (
          <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="3" aria-hidden="true">
            {mode === "back" ? <path d="M4 4L16 16M16 4L4 16" /> : <path d="M3 11L8 16L17 4" />}
          </svg>
        ) : null}
      </Box>
      <Box flex="1" minW="0" color={on && mode === "pack" ? "muted" : "ink"}>
        <Box fontSize="16px" fontWeight="600" textDecoration={on && mode === "pack" ? "line-through" : "none"}>
          {line.name}
        </Box>
        {line.why ? (
          <Box fontSize="13px" color="muted">
            {line.why}
          </Box>
        ) : null}
        {line.trouble ? (
          <Box fontSize="13.5px" color="rust" fontWeight="700">
            {line.trouble}
          </Box>
        ) : null}
      </Box>
    </chakra.button>
  );
}

const turned = (list: readonly string[], key: string) => (list.includes(key) ? list.filter((one) => one !== key) : [...list, key]);

/** What to pack, ticked off the evening before; and the note to leave with somebody. */
export default function PackPage() {
  return <OnOuting what="the list">{(held) => <Whole {...held} />}</OnOuting>;
}

function Whole({ id, store, state }: Held) {
  const { outing, name } = state.draft;
  const query = usePlan(id, outing);
  const [mode, setMode] = useState<Mode>("pack");
  const [line, setLine] = useState("");
  const { packing, contact } = outing;
  const pack = (part: Partial<Outing["packing"]>) =>
    store.outing((before) => ({ ...before, packing: { ...before.packing, ...part } }));
  const tell = (part: Partial<Outing["contact"]>) =>
    store.outing((before) => ({ ...before, contact: { ...before.contact, ...part } }));
  const readiness = query.data?.readiness;
  const every = readiness?.groups.flatMap((group) => group.lines) ?? [];
  const ticked = every.filter((one) => packing.ticked.includes(one.key)).length;
  const addLine = (words: string) => {
    const text = words.trim().slice(0, 80);
    setLine("");
    if (text && !packing.own_lines.includes(text)) pack({ own_lines: [...packing.own_lines, text] });
  };
  return (
    <Flex direction="column" minH="100%">
      <TopBar />
      <Box as="main" px="4" py="4" w="100%" maxW="760px" mx="auto">
        <Link to={`/outings/${id}`} style={{ textDecoration: "underline" }}>
          {name}
        </Link>
        <Flex align="baseline" gap="3" mb="3" wrap="wrap">
          <chakra.h1 fontSize="26px" fontWeight="700" flex="1">
            {mode === "pack" ? (every.length > 0 && ticked === every.length ? "All packed" : "Pack") : "What stayed at home?"}
          </chakra.h1>
          {mode === "pack" ? (
            <Box className="lr-fig" fontSize="20px" fontWeight="700" role="status" data-testid="ticked">
              {ticked} of {every.length}
            </Box>
          ) : null}
          <Saved state={state} />
          <FilesMenu id={id} disabled={state.save !== "saved"} />
        </Flex>
        <Segments
          label="Before or after"
          value={mode}
          options={[
            ["pack", "the evening before"],
            ["back", "back home"],
          ]}
          onCommit={setMode}
        />
        {mode === "back" ? (
          <Box color="muted" mt="2">
            Mark what you missed. It stands on top of the list the next time.
          </Box>
        ) : null}
        <NotPlanned query={query} store={store} />
        <FromBoard query={query} />
        {!readiness && !query.isError ? <Loading what="the list" /> : null}
        {(readiness?.groups ?? []).map((group) => (
          <Box key={group.key} mt="5" data-testid={`group-${group.key}`}>
            <Box
              as="h2"
              fontWeight="700"
              fontSize="15px"
              color={group.key === "forgotten" ? "rust" : "ink"}
              borderBottomWidth="2px"
              borderColor={group.key === "forgotten" ? "rust" : "ink"}
              pb="1"
            >
              {group.title}
            </Box>
            {group.lines.map((one) => (
              <PackLine
                key={one.key}
                line={one}
                mode={mode}
                on={(mode === "pack" ? packing.ticked : packing.forgotten).includes(mode === "pack" ? one.key : one.name)}
                onTurn={() =>
                  mode === "pack"
                    ? pack({ ticked: turned(packing.ticked, one.key) })
                    : pack({ forgotten: turned(packing.forgotten, one.name) })
                }
              />
            ))}
          </Box>
        ))}
        <Flex gap="2" mt="4" align="end">
          <Box flex="1">
            <TextField label="A line of your own" value={line} placeholder="thermos" onCommit={addLine} />
          </Box>
        </Flex>
        {packing.own_lines.length > 0 ? (
          <Flex gap="2" wrap="wrap" mt="2">
            {packing.own_lines.map((one) => (
              <Button key={one} onClick={() => pack({ own_lines: packing.own_lines.filter((other) => other !== one) })}>
                Take “{one}” off
              </Button>
            ))}
          </Flex>
        ) : null}
        <Box mt="5">
          <More title="What you have" open>
            <Flex gap="3" wrap="wrap">
              <NumberField
                label="Batteries"
                width="110px"
                value={packing.batteries}
                onCommit={(v) => v !== null && pack({ batteries: v })}
              />
              <NumberField
                label="Cards"
                unit="GB"
                step={16}
                width="120px"
                value={packing.cards_gb}
                onCommit={(v) => v !== null && pack({ cards_gb: v })}
              />
              <NumberField
                label="Coldest"
                unit="°C"
                width="120px"
                value={packing.coldest_c}
                onCommit={(v) => v !== null && pack({ coldest_c: v })}
              />
            </Flex>
          </More>
        </Box>
        <Box mt="4">
          <More title="Note to leave with somebody" open={Boolean(contact.left_with || contact.call)}>
            <TextField label="Left with" value={contact.left_with} onCommit={(left_with) => tell({ left_with })} />
            <TextField label="Whom to call, and the number" value={contact.call} onCommit={(call) => tell({ call })} />
            <TextField label="Who is out" value={contact.party} onCommit={(party) => tell({ party })} />
            <TextField label="Vehicle, and where it stands" value={contact.vehicle} onCommit={(vehicle) => tell({ vehicle })} />
            <NumberField
              label="Call if nothing is heard after the latest return"
              unit="min"
              step={30}
              width="280px"
              value={contact.overdue_min}
              onCommit={(v) => v !== null && tell({ overdue_min: v })}
            />
            <TextField long label="More" value={contact.note} onCommit={(note) => tell({ note })} />
            <Box>
              <Button asChild variant="outline" size="md">
                <a href={`/api/outings/${id}/files/note.txt`} download>
                  Note as text
                </a>
              </Button>
            </Box>
          </More>
        </Box>
        {readiness && readiness.cautions.length > 0 ? (
          <Box mt="5">
            <Box as="h2" fontWeight="700" fontSize="15px" borderBottomWidth="2px" pb="1">
              Look out for
            </Box>
            {readiness.cautions.map((one) => (
              <Box key={one.about + one.text} py="2" borderBottomWidth="1px" borderColor="line">
                <b>{one.about}.</b> {one.text}
              </Box>
            ))}
            <Box color="muted" mt="2">
              {readiness.standing_caution}
            </Box>
          </Box>
        ) : null}
      </Box>
    </Flex>
  );
}
