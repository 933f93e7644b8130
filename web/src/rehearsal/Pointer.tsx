import { Box } from "@chakra-ui/react";
import type { PointerEvent } from "react";

import { within } from "./drawing";

/** Where is looked closely: a rectangle that follows a press or a drag. Places are shares of the frame, the picture its crop. */
export function Pointer({
  crop: [left = 0, top = 0, wide = 1, tall = 1],
  at,
  onMove,
  shown,
}: {
  crop: readonly number[];
  at: readonly [number, number];
  onMove: (at: readonly [number, number]) => void;
  shown: { width: number; height: number };
}) {
  const follow = (event: PointerEvent) => {
    const rect = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - rect.left) / rect.width;
    const y = (event.clientY - rect.top) / rect.height;
    onMove([within(left + within(x) * wide), within(top + within(y) * tall)]);
  };
  const size = 9;
  return (
    <Box
      position="absolute"
      inset="0"
      cursor="crosshair"
      style={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        follow(event);
      }}
      onPointerMove={(event) => event.buttons > 0 && follow(event)}
    >
      <Box
        position="absolute"
        borderWidth="2px"
        borderColor="rust"
        outline="1px solid"
        outlineColor="panel"
        pointerEvents="none"
        style={{
          left: `calc(${((at[0] - left) / wide) * 100}% - ${size / 2}%)`,
          top: `calc(${((at[1] - top) / tall) * 100}% - ${(size / 2) * (shown.width / shown.height) * 0.67}%)`,
          width: `${size}%`,
          height: `${size * (shown.width / shown.height) * 0.67}%`,
        }}
      />
    </Box>
  );
}
