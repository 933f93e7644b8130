import { Box, chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { paint } from "../theme/system";
import { asImage, asMask } from "./drawing";

/** What is marked in a picture: a name, how it is drawn, and where. */
const MARKS = {
  clipped: ["clipped", "radial-gradient(circle at 2px 2px, var(--lr-mark) 1.6px, transparent 1.9px) 0 0/6px 6px", "rust"],
  blocked: ["no detail", "radial-gradient(circle at 2px 2px, var(--lr-mark) 1.6px, transparent 1.9px) 0 0/6px 6px", "slate"],
  soft: ["soft in every frame", "repeating-linear-gradient(90deg, var(--lr-mark) 0 1.5px, transparent 1.5px 6px)", "rust"],
  lost: ["held by no frame", "radial-gradient(circle at 2px 2px, var(--lr-mark) 1.6px, transparent 1.9px) 0 0/6px 6px", "rust"],
  ghosts: ["elsewhere in each frame", "repeating-linear-gradient(0deg, var(--lr-mark) 0 1.5px, transparent 1.5px 6px)", "moss"],
} as const;
export type MarkName = keyof typeof MARKS;
export type Marked = Partial<Record<MarkName, string | null>>;

const ink = (name: MarkName) => paint(MARKS[name][2]);

function Layer({ name, mask }: { name: MarkName; mask: string }) {
  return (
    <Box
      position="absolute"
      inset="0"
      aria-hidden="true"
      css={{
        "--lr-mark": ink(name),
        background: MARKS[name][1],
        maskImage: asMask(mask),
        maskSize: "100% 100%",
        maskRepeat: "no-repeat",
        imageRendering: "pixelated",
      }}
    />
  );
}

interface Props {
  jpeg: string;
  width: number;
  height: number;
  label: string;
  marks?: Marked | undefined;
  children?: ReactNode;
  /** It is of a moment ago: what is drawn now takes its place. */
  pale?: boolean;
  /** Each pixel as large as it comes, where closeness is looked at. */
  crisp?: boolean;
}

/** A drawn picture as large as its place allows, with what is wrong in it marked. Night dims it by its theme. */
export function DrawnPicture({ jpeg, width, height, label, marks = {}, children, crisp = false, pale = false }: Props) {
  return (
    <Box position="absolute" inset="0" display="flex" alignItems="center" justifyContent="center" containerType="size">
      <Box
        position="relative"
        flexShrink="0"
        opacity={pale ? 0.45 : 1}
        style={{
          aspectRatio: `${width} / ${height}`,
          width: `min(100cqw, calc(100cqh * ${width / height}))`,
        }}
      >
        <chakra.img
          src={asImage(jpeg)}
          alt={label}
          w="100%"
          h="100%"
          display="block"
          className="lr-drawn"
          draggable={false}
          style={crisp ? { imageRendering: "pixelated" } : undefined}
        />
        {Object.entries(marks).map(([name, mask]) => (mask ? <Layer key={name} name={name as MarkName} mask={mask} /> : null))}
        {children}
      </Box>
    </Box>
  );
}

/** What the marks in a picture mean; only those that are there. */
export function MarkLegend({ marks }: { marks: Marked }) {
  const there = (Object.entries(marks) as [MarkName, string | null][]).filter(([, mask]) => mask);
  if (there.length === 0) return null;
  return (
    <Box as="ul" listStyleType="none" display="flex" flexWrap="wrap" gap="3" fontSize="12.5px" aria-label="Marked in the picture">
      {there.map(([name]) => (
        <Box as="li" key={name} display="flex" alignItems="center" gap="6px">
          <Box
            w="20px"
            h="14px"
            borderWidth="1px"
            borderColor="line"
            aria-hidden="true"
            css={{ "--lr-mark": ink(name), background: MARKS[name][1] }}
          />
          {MARKS[name][0]}
        </Box>
      ))}
    </Box>
  );
}
