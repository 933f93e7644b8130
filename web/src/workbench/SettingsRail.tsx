import { Box, chakra, Flex, Input, Popover, Portal } from "@chakra-ui/react";
import { useState } from "react";

import type { Change, SettingSummary, Filter, FilterInUse } from "../api/types";
import { Fractions } from "../shell/Fractions";
import { NOTE } from "../shell/note";
import { useBench } from "./context";
import { typedValue } from "./typed";

type Setting = Extract<Change, { kind?: "nudge" }>["setting"];

/** Keys of each chip: less and more. The hand rests on the left of the keyboard. */
export const NUDGE_KEYS: Record<Setting, readonly [string, string]> = {
  focal_length: ["q", "w"],
  aperture: ["a", "s"],
  shutter: ["c", "v"],
  iso: ["z", "x"],
  focus: ["e", "r"],
};

const isSetting = (name: string): name is Setting => name in NUDGE_KEYS;

function Corner({ chip }: { chip: SettingSummary }) {
  const { store } = useBench();
  const name = `${chip.locked ? "Free" : "Lock"} ${chip.label.toLowerCase()}`;
  return (
    <chakra.button
      type="button"
      aria-label={name}
      aria-pressed={chip.locked}
      title={name}
      position="absolute"
      top="0"
      right="0"
      w="24px"
      h="24px"
      cursor="pointer"
      onClick={() => store.act("lock", { kind: "lock", setting: chip.setting, on: !chip.locked })}
      css={{
        "& path": { fill: chip.locked ? "{colors.moss}" : "transparent", stroke: chip.locked ? "{colors.moss}" : "{colors.line}" },
        "&:hover path": { stroke: "{colors.moss}" },
      }}
    >
      <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden="true">
        <path d="M6 0.500H23.500V18Z" strokeWidth="1.200" />
      </svg>
    </chakra.button>
  );
}

function KeyButton({ label, text, onClick }: { label: string; text: string; onClick: () => void }) {
  return (
    <chakra.button
      type="button"
      aria-label={label}
      onClick={onClick}
      fontFamily="mono"
      fontSize="11px"
      color="muted"
      px="5px"
      minW="24px"
      minH="24px"
      cursor="pointer"
      _hover={{ color: "ink", bg: "mossFaint" }}
    >
      {text}
    </chakra.button>
  );
}

/** A nudge large enough for a thumb. */
function ThumbButton({ label, text, onClick }: { label: string; text: string; onClick: () => void }) {
  return (
    <chakra.button
      type="button"
      aria-label={label}
      onClick={onClick}
      w="34px"
      flexShrink="0"
      h="40px"
      fontSize="22px"
      fontFamily="mono"
      cursor="pointer"
      css={{ touchAction: "manipulation" }}
      _active={{ bg: "mossFaint" }}
    >
      {text}
    </chakra.button>
  );
}

function SettingChip({ chip, pocket }: { chip: SettingSummary & { setting: Setting }; pocket: boolean }) {
  const { store } = useBench();
  const [typing, setTyping] = useState<string>();
  const [wrong, setWrong] = useState(false);
  const [less, more] = NUDGE_KEYS[chip.setting];
  const nudge = (steps: number) => store.act(`nudge ${chip.setting}`, { kind: "nudge", setting: chip.setting, steps });
  const commit = () => {
    const value = typedValue(typing ?? "");
    if (value === undefined || (value === null && chip.setting !== "focus")) {
      setWrong(true);
      return;
    }
    store.act(`set ${chip.setting}`, { kind: "set", setting: chip.setting, value });
    setTyping(undefined);
    setWrong(false);
  };
  return (
    <Box
      position="relative"
      flex="1"
      minW="0"
      bg="panel"
      borderRightWidth="1px"
      borderColor="line"
      px={pocket ? "4px" : "3"}
      pt={pocket ? "3px" : "7px"}
      borderBottomWidth={pocket ? "1px" : "0"}
      onWheel={(e) => nudge(e.deltaY > 0 ? -1 : 1)}
      data-testid={`chip-${chip.setting}`}
    >
      <Box fontSize={pocket ? "11px" : "12px"} color="muted" whiteSpace="nowrap">
        {chip.label}
      </Box>
      <Flex align="center" css={pocket ? { "& > :nth-child(2)": { flex: 1, textAlign: "center" } } : {}}>
        {pocket ? <ThumbButton label={`${chip.label} down`} text="−" onClick={() => nudge(-1)} /> : null}
        {typing === undefined ? (
          <chakra.button
            type="button"
            fontFamily="mono"
            fontSize={pocket ? "15px" : "20px"}
            fontWeight="700"
            lineHeight={pocket ? "38px" : "26px"}
            whiteSpace="nowrap"
            cursor="text"
            textAlign="left"
            aria-label={`${chip.text}, ${chip.label.toLowerCase()}${chip.locked ? ", locked" : ""}; press to type`}
            onClick={() => setTyping("")}
          >
            <Fractions>{chip.text}</Fractions>
          </chakra.button>
        ) : (
          <Input
            autoFocus
            h="28px"
            px="4px"
            fontFamily="mono"
            fontSize="16px"
            bg="raised"
            placeholder={chip.text}
            aria-label={`New ${chip.label.toLowerCase()}`}
            aria-invalid={wrong}
            borderColor={wrong ? "rust" : "line"}
            value={typing}
            onChange={(e) => setTyping(e.target.value)}
            onBlur={() => {
              setTyping(undefined);
              setWrong(false);
            }}
            onKeyDown={(e) => {
              if (e.key === "Enter") commit();
              if (e.key === "Escape") setTyping(undefined);
            }}
          />
        )}
        {pocket ? <ThumbButton label={`${chip.label} up`} text="+" onClick={() => nudge(1)} /> : null}
      </Flex>
      {chip.note && !pocket ? (
        <Box
          position="absolute"
          left="12px"
          bottom="1px"
          maxW="calc(100% - 68px)"
          fontSize="11px"
          lineHeight="15px"
          whiteSpace="nowrap"
          overflow="hidden"
          textOverflow="ellipsis"
          title={chip.note}
        >
          <Fractions>{chip.note}</Fractions>
        </Box>
      ) : null}
      {pocket ? null : (
        <Flex position="absolute" right="3px" bottom="0" align="center">
          <KeyButton label={`${chip.label} down`} text={less.toUpperCase()} onClick={() => nudge(-1)} />
          <KeyButton label={`${chip.label} up`} text={more.toUpperCase()} onClick={() => nudge(1)} />
        </Flex>
      )}
      <Corner chip={chip} />
    </Box>
  );
}

function FilterRow({ filter, use, put }: { filter: Filter; use: FilterInUse | undefined; put: (use: FilterInUse | null) => void }) {
  const turns = filter.kind === "polariser" || filter.kind === "variable_nd";
  const fresh: FilterInUse = { filter_id: filter.id, strength: 1, edge_at: 0.4 };
  return (
    <Box py="2" borderBottomWidth="1px" borderColor="line">
      <chakra.label display="flex" gap="2" alignItems="center" cursor="pointer" fontWeight={use ? "700" : "400"}>
        <chakra.input
          type="checkbox"
          checked={Boolean(use)}
          onChange={() => put(use ? null : fresh)}
          accentColor="moss"
          w="16px"
          h="16px"
        />
        <Box flex="1">{filter.name}</Box>
        <Box fontFamily="mono" color="muted" fontSize="12px">
          {filter.stops} stops
        </Box>
      </chakra.label>
      {use && turns ? (
        <chakra.label display="flex" gap="2" alignItems="center" fontSize="12px" color="muted" pl="6">
          turned
          <chakra.input
            type="range"
            min="0"
            max="1"
            step={1 / 12}
            value={use.strength}
            onChange={(e) => put({ ...use, strength: Number(e.target.value) })}
            flex="1"
            accentColor="moss"
          />
        </chakra.label>
      ) : null}
      {use && filter.kind === "graduated" ? (
        <chakra.label display="flex" gap="2" alignItems="center" fontSize="12px" color="muted" pl="6">
          edge, top to bottom
          <chakra.input
            type="range"
            min="0"
            max="1"
            step="0.02"
            value={use.edge_at}
            onChange={(e) => put({ ...use, edge_at: Number(e.target.value) })}
            flex="1"
            accentColor="moss"
          />
        </chakra.label>
      ) : null}
    </Box>
  );
}

function FilterChip({
  chip,
  open,
  setOpen,
  pocket,
}: {
  chip: SettingSummary;
  open: boolean;
  setOpen: (open: boolean) => void;
  pocket: boolean;
}) {
  const { store, state } = useBench();
  const owned = store.scene?.kit.filters ?? [];
  const uses = state.draft.composition.settings.filters;
  const put = (filter: Filter, use: FilterInUse | null) => {
    const others = uses.filter((one) => one.filter_id !== filter.id);
    const at = uses.findIndex((one) => one.filter_id === filter.id);
    const next = use ? (at >= 0 ? uses.map((one, i) => (i === at ? use : one)) : [...others, use]) : others;
    store.act("filters", { kind: "filters", filters: next });
  };
  return (
    <Box
      position="relative"
      flex="1.7"
      minW="0"
      bg="panel"
      px={pocket ? "6px" : "3"}
      pt={pocket ? "3px" : "7px"}
      borderBottomWidth={pocket ? "1px" : "0"}
      borderColor="line"
      data-testid="chip-filters"
    >
      <Popover.Root open={open} onOpenChange={(e) => setOpen(e.open)} positioning={{ placement: "bottom-end" }} lazyMount>
        <Popover.Trigger asChild>
          <chakra.button type="button" display="block" textAlign="left" w="calc(100% - 20px)" cursor="pointer">
            <Box fontSize={pocket ? "11px" : "12px"} color="muted" whiteSpace="nowrap" overflow="hidden">
              {pocket ? "Filters" : chip.label}
            </Box>
            <Box
              fontFamily="mono"
              fontSize={pocket ? "15px" : "20px"}
              fontWeight="700"
              lineHeight={pocket ? "38px" : "28px"}
              whiteSpace="nowrap"
              overflow="hidden"
              textOverflow="ellipsis"
            >
              <Fractions>{chip.text}</Fractions>
            </Box>
          </chakra.button>
        </Popover.Trigger>
        <Portal>
          <Popover.Positioner>
            <Popover.Content {...NOTE} px="4" py="2" width="330px" aria-label="Filters in front of the lens">
              {owned.length === 0 ? <Box py="2">No filters in your kit yet. Add them on the kit page.</Box> : null}
              {owned.map((filter) => (
                <FilterRow
                  key={filter.id}
                  filter={filter}
                  use={uses.find((one) => one.filter_id === filter.id)}
                  put={(use) => put(filter, use)}
                />
              ))}
            </Popover.Content>
          </Popover.Positioner>
        </Portal>
      </Popover.Root>
      {pocket ? null : (
        <Box position="absolute" right="8px" bottom="5px" fontFamily="mono" fontSize="11px" color="muted" aria-hidden="true">
          F
        </Box>
      )}
      <Corner chip={chip} />
    </Box>
  );
}

/** The settings as on the top plate of a camera. */
export function SettingsRail({
  filtersOpen,
  setFiltersOpen,
  pocket = false,
}: {
  filtersOpen: boolean;
  setFiltersOpen: (open: boolean) => void;
  /** Two rows with large nudges for the thumb. */
  pocket?: boolean;
}) {
  const { state } = useBench();
  const chips = state.evaluation?.setting_summaries ?? [];
  return (
    <Box
      as="section"
      aria-label="Settings"
      display={pocket ? "grid" : "flex"}
      gridTemplateColumns="repeat(3, minmax(0, 1fr))"
      h={pocket ? "auto" : "66px"}
      flexShrink="0"
      borderBottomWidth="1px"
      borderColor="line"
      bg="panel"
    >
      {chips.map((chip) =>
        isSetting(chip.setting) ? (
          <SettingChip key={chip.setting} chip={{ ...chip, setting: chip.setting }} pocket={pocket} />
        ) : (
          <FilterChip key={chip.setting} chip={chip} open={filtersOpen} setOpen={setFiltersOpen} pocket={pocket} />
        ),
      )}
    </Box>
  );
}
