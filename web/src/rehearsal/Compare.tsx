import { Box, chakra } from "@chakra-ui/react";
import { type PointerEvent, useRef, useState } from "react";

import type { FrameOut, ProofOut } from "../api/types";
import { paint } from "../theme/system";
import { asImage } from "./drawing";

type Picture = Pick<FrameOut | ProofOut, "jpeg" | "width" | "height">;

/** Two pictures over one another, parted by an edge that is dragged, or moved by the arrow keys. */
export function Compare({ left, right, names }: { left: Picture; right: Picture; names: readonly [string, string] }) {
  const [at, setAt] = useState(0.5);
  const box = useRef<HTMLDivElement>(null);
  const follow = (event: PointerEvent) => {
    const rect = box.current?.getBoundingClientRect();
    if (rect) setAt(Math.min(Math.max((event.clientX - rect.left) / rect.width, 0), 1));
  };
  return (
    <Box position="absolute" inset="0" display="flex" alignItems="center" justifyContent="center" containerType="size">
      <Box
        ref={box}
        position="relative"
        flexShrink="0"
        style={{
          aspectRatio: `${left.width} / ${left.height}`,
          width: `min(100cqw, calc(100cqh * ${left.width / left.height}))`,
          touchAction: "none",
          cursor: "ew-resize",
        }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          follow(event);
        }}
        onPointerMove={(event) => event.buttons > 0 && follow(event)}
      >
        <chakra.img
          src={asImage(right.jpeg)}
          alt={names[1]}
          w="100%"
          h="100%"
          display="block"
          className="lr-drawn"
          draggable={false}
        />
        <chakra.img
          src={asImage(left.jpeg)}
          alt={names[0]}
          position="absolute"
          inset="0"
          w="100%"
          h="100%"
          className="lr-drawn"
          draggable={false}
          style={{ clipPath: `inset(0 ${(1 - at) * 100}% 0 0)` }}
        />
        <Box
          position="absolute"
          top="0"
          bottom="0"
          w="3px"
          ml="-1.5px"
          bg="panel"
          style={{ left: `${at * 100}%` }}
          aria-hidden="true"
        >
          <Box
            position="absolute"
            top="50%"
            left="-9px"
            w="21px"
            h="36px"
            mt="-18px"
            bg="panel"
            borderWidth="1px"
            borderColor="ink"
          />
        </Box>
        {names.map((name, i) => (
          <Box
            key={name + String(i)}
            position="absolute"
            top="8px"
            bg="panel"
            px="8px"
            py="2px"
            fontSize="13px"
            maxW="45%"
            {...(i === 0 ? { left: "8px" } : { right: "8px" })}
          >
            {name}
          </Box>
        ))}
        <chakra.input
          type="range"
          min={0}
          max={100}
          value={Math.round(at * 100)}
          onChange={(event) => setAt(Number(event.target.value) / 100)}
          aria-label={`Edge between ${names[0]} and ${names[1]}`}
          position="absolute"
          bottom="6px"
          left="10%"
          w="80%"
          style={{ accentColor: paint("moss") }}
        />
      </Box>
    </Box>
  );
}
