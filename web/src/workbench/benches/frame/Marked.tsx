import { Box, chakra } from "@chakra-ui/react";
import { useState } from "react";

import type { PhotographOut } from "../../../api/types";
import { ARROWS } from "../../../instruments/arrows";
import { paint } from "../../../theme/system";

/** The foot of an element, known before, as it was marked in the photograph. */
export type Known = { x: number; y: number; element_id: string };
export type Marks = Partial<Record<"foot" | "top" | "side", readonly [number, number]>>;

/** The photograph to mark things in, by a press or by keys. */
export function Marked({
  photograph,
  marks,
  knowns,
  onPlace,
}: {
  photograph: PhotographOut;
  marks: Marks;
  knowns: Known[];
  onPlace: (x: number, y: number) => void;
}) {
  const [cursor, setCursor] = useState<readonly [number, number]>([0.5, 0.5]);
  const [keyed, setKeyed] = useState(false);
  const dots = [
    ...Object.entries(marks).map(([name, at]) => [name, at] as const),
    ...knowns.map((one) => ["known", [one.x, one.y] as const] as const),
  ];
  return (
    <Box
      position="relative"
      tabIndex={0}
      role="application"
      aria-label="The photograph; press to mark, or move with the arrow keys and press Enter"
      cursor="crosshair"
      maxW="100%"
      css={{ aspectRatio: `${photograph.width_px} / ${photograph.height_px}` }}
      maxH="340px"
      mx="auto"
      data-testid="marking"
      onFocus={() => setKeyed(true)}
      onBlur={() => setKeyed(false)}
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        onPlace((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
      }}
      onKeyDown={(event) => {
        const way = ARROWS[event.key];
        const size = event.shiftKey ? 0.05 : 0.005;
        if (way) setCursor(([x, y]) => [Math.min(Math.max(x + way[0] * size, 0), 1), Math.min(Math.max(y + way[1] * size, 0), 1)]);
        else if (event.key === "Enter") onPlace(...cursor);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <chakra.img
        src={`/api/photographs/${photograph.id}/shown`}
        alt={photograph.name}
        w="100%"
        h="100%"
        display="block"
        pointerEvents="none"
      />
      <chakra.svg
        viewBox="0 0 1000 1000"
        preserveAspectRatio="none"
        position="absolute"
        inset="0"
        w="100%"
        h="100%"
        pointerEvents="none"
      >
        {dots.map(([name, at], i) =>
          at ? (
            <path
              key={`${name}${i}`}
              d={`M${at[0] * 1000 - 14} ${at[1] * 1000}h28m-14 -20v40`}
              stroke={name === "known" ? paint("slate") : paint("rust")}
              strokeWidth="4"
              fill="none"
              vectorEffect="non-scaling-stroke"
            />
          ) : null,
        )}
        {keyed ? (
          <path
            d={`M${cursor[0] * 1000 - 8} ${cursor[1] * 1000}h16m-8 -12v24`}
            stroke={paint("panel")}
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        ) : null}
      </chakra.svg>
    </Box>
  );
}
