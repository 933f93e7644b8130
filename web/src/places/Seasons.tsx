import { Box, Button, Flex } from "@chakra-ui/react";

import type { Season } from "../api/types";
import { ChoiceField, TextField } from "../shell/fields";

export const SEASON_WORDS: Record<Season["kind"], string> = {
  water: "plenty of water",
  dry: "dry",
  frozen: "frozen",
  snow: "snow",
  leaf_colour: "leaf colour",
  flowers: "flowers",
  crowds: "crowds",
  closed: "closed",
  other: "other",
};
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"].map(
  (name, i) => [String(i + 1), name] as const,
);

export const monthName = (month: number) => MONTHS[month - 1]?.[1] ?? "";

/** What the year does to a place. */
export function Seasons({ seasons, onCommit }: { seasons: Season[]; onCommit: (seasons: Season[]) => void }) {
  const put = (i: number, part: Partial<Season>) => onCommit(seasons.map((one, k) => (k === i ? { ...one, ...part } : one)));
  return (
    <Box as="fieldset">
      <Box as="legend" fontSize="12px" color="muted" fontWeight="500">
        seasons
      </Box>
      {seasons.map((one, i) => (
        <Flex key={i} gap="2" align="end" mb="1" wrap="wrap">
          <ChoiceField
            quiet
            label={`season ${i + 1}`}
            width="140px"
            value={one.kind}
            options={Object.entries(SEASON_WORDS) as [Season["kind"], string][]}
            onCommit={(kind) => put(i, { kind })}
          />
          <ChoiceField
            quiet
            label={`season ${i + 1}, from`}
            width="80px"
            value={String(one.from_month)}
            options={MONTHS}
            onCommit={(m) => put(i, { from_month: Number(m) })}
          />
          <ChoiceField
            quiet
            label={`season ${i + 1}, to`}
            width="80px"
            value={String(one.to_month)}
            options={MONTHS}
            onCommit={(m) => put(i, { to_month: Number(m) })}
          />
          <Box flex="1" minW="140px">
            <TextField quiet label={`season ${i + 1}, note`} value={one.note} onCommit={(note) => put(i, { note })} />
          </Box>
          <Button aria-label={`Remove season ${i + 1}`} onClick={() => onCommit(seasons.filter((_, k) => k !== i))}>
            Remove
          </Button>
        </Flex>
      ))}
      <Button onClick={() => onCommit([...seasons, { kind: "leaf_colour", from_month: 10, to_month: 11, note: "" }])}>
        Add a season
      </Button>
    </Box>
  );
}
