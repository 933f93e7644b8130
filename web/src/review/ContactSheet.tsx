import { Box, chakra, Flex, Grid } from "@chakra-ui/react";
import { type KeyboardEvent as PressedKey, useRef, useState } from "react";

import type { Picture, ShownFinding } from "../api/types";
import { Rating } from "../shell/Rating";
import { useJudging } from "./judging";
import { judgedBy } from "./keys";
import { Loupe } from "./Loupe";

const VERDICTS = { keep: "kept", reject: "rejected" } as const;

function Card({
  picture,
  seen,
  marked,
  onOpen,
  onKey,
  hold,
}: {
  picture: Picture;
  seen: boolean;
  marked: boolean;
  onOpen: () => void;
  onKey: (event: PressedKey) => void;
  hold: (node: HTMLButtonElement | null) => void;
}) {
  const out = picture.verdict === "reject";
  return (
    <Box opacity={out ? 0.55 : 1}>
      <chakra.button
        type="button"
        ref={hold}
        tabIndex={marked ? 0 : -1}
        onClick={onOpen}
        onKeyDown={onKey}
        display="block"
        w="100%"
        bg="panel"
        borderWidth="2px"
        borderColor={picture.verdict === "keep" ? "moss" : "line"}
        cursor="zoom-in"
        aria-label={`${picture.number === null ? picture.name : `Frame ${picture.number}`}, ${picture.settings}${picture.verdict ? `, ${VERDICTS[picture.verdict]}` : ""}`}
      >
        <chakra.img
          src={`/api/pictures/${picture.id}/small`}
          alt=""
          loading="lazy"
          w="100%"
          h="118px"
          objectFit="contain"
          display="block"
          className="lr-picture"
        />
      </chakra.button>
      <Flex justify="space-between" fontSize="12px" mt="1" gap="2" align="center">
        <Box
          fontWeight={seen ? "700" : "400"}
          color={seen ? "rust" : "ink"}
          overflow="hidden"
          whiteSpace="nowrap"
          textOverflow="ellipsis"
        >
          {picture.number === null ? picture.name : picture.number}
          {seen ? " · see below" : ""}
        </Box>
        <Box color="muted" whiteSpace="nowrap">
          {picture.verdict ? VERDICTS[picture.verdict] : ""}
        </Box>
      </Flex>
      <Box
        fontSize="11px"
        color="muted"
        fontFamily="mono"
        whiteSpace="nowrap"
        overflow="hidden"
        textOverflow="ellipsis"
        title={picture.settings}
      >
        {picture.settings}
      </Box>
      {picture.keywords.length > 0 && (
        <Box fontSize="11px" overflow="hidden" whiteSpace="nowrap" textOverflow="ellipsis" title={picture.keywords.join(", ")}>
          {picture.keywords.join(", ")}
        </Box>
      )}
    </Box>
  );
}

interface Props {
  pictures: readonly Picture[];
  /** Under which key the list is kept. */
  list: readonly string[];
  shown?: readonly ShownFinding[];
}

/** All pictures side by side: judged by keys, opened large by Enter or a press. */
export function ContactSheet({ pictures, list, shown = [] }: Props) {
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(false);
  const judging = useJudging(list);
  const cards = useRef<(HTMLButtonElement | null)[]>([]);
  const grid = useRef<HTMLDivElement>(null);
  const here = Math.min(at, pictures.length - 1);
  const picture = pictures[here];
  const seen = new Set(shown.filter((one) => one.told).flatMap((one) => one.frames));
  const go = (to: number) => {
    const next = Math.min(Math.max(to, 0), pictures.length - 1);
    setAt(next);
    if (!open) cards.current[next]?.focus();
  };
  const across = () => {
    const columns = grid.current ? getComputedStyle(grid.current).gridTemplateColumns.split(" ").length : 1;
    return Math.max(columns, 1);
  };
  const onKey = (event: KeyboardEvent | PressedKey) => {
    if (event.ctrlKey || event.metaKey || event.altKey || !picture) return;
    const moves: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: across(), ArrowUp: -across() };
    const by = moves[event.key];
    const judged = judgedBy(event.key.toLowerCase(), picture);
    if (by !== undefined) go(here + by);
    else if (judged) judging.mutate({ id: picture.id, ...judged });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  if (!picture) return null;
  return (
    <Box data-testid="sheet">
      <Flex fontSize="12.5px" color="muted" mb="2" gap="4" wrap="wrap" align="center">
        <Box>Arrows go, 1 to 5 rate, K keeps, X rejects, Enter opens large.</Box>
        <Flex align="center" gap="2">
          <Box>{picture.number === null ? picture.name : `frame ${picture.number}`}</Box>
          <Rating rating={picture.rating} onRate={(rating) => judging.mutate({ id: picture.id, rating })} />
        </Flex>
      </Flex>
      <Grid ref={grid} templateColumns="repeat(auto-fill, minmax(164px, 1fr))" gap="3">
        {pictures.map((one, i) => (
          <Card
            key={one.id}
            picture={one}
            seen={one.number !== null && seen.has(one.number)}
            marked={i === here}
            hold={(node) => {
              cards.current[i] = node;
            }}
            onOpen={() => {
              setAt(i);
              setOpen(true);
            }}
            onKey={onKey}
          />
        ))}
      </Grid>
      <Loupe
        picture={open ? picture : undefined}
        count={pictures.length}
        at={here}
        marks={shown.filter((one) => one.box && picture.number !== null && one.frames.includes(picture.number))}
        onKey={onKey}
        onKeywords={(keywords) => judging.mutate({ id: picture.id, keywords })}
        onClose={() => {
          setOpen(false);
          cards.current[here]?.focus();
        }}
      />
    </Box>
  );
}
