import { Box } from "@chakra-ui/react";
import { type RefObject, useRef } from "react";

import { NARROWEST, USUAL, WIDEST } from "./panes";

const STEP = 0.02;
const held = (share: number) => Math.min(Math.max(share, NARROWEST), WIDEST);

/** The line between pictures and bench: dragged, or moved by arrow keys; a double press puts it back. */
export function Splitter({
  left,
  onMove,
  within,
}: {
  left: number;
  onMove: (left: number) => void;
  within: RefObject<HTMLElement | null>;
}) {
  const dragging = useRef(false);
  const at = (x: number) => {
    const box = within.current?.getBoundingClientRect();
    if (box) onMove(held((x - box.left) / box.width));
  };
  return (
    <Box
      role="separator"
      aria-orientation="vertical"
      aria-label="Width of the pictures"
      aria-valuenow={Math.round(left * 100)}
      aria-valuemin={NARROWEST * 100}
      aria-valuemax={WIDEST * 100}
      tabIndex={0}
      w="9px"
      mx="-4px"
      zIndex={2}
      flexShrink="0"
      cursor="col-resize"
      css={{
        touchAction: "none",
        background: "linear-gradient({colors.line}, {colors.line}) center / 1px 100% no-repeat",
        "&:hover, &:focus-visible": { background: "linear-gradient({colors.moss}, {colors.moss}) center / 3px 100% no-repeat" },
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        dragging.current = true;
      }}
      onPointerMove={(event) => dragging.current && at(event.clientX)}
      onPointerUp={() => (dragging.current = false)}
      onPointerCancel={() => (dragging.current = false)}
      onDoubleClick={() => onMove(USUAL.left)}
      onKeyDown={(event) => {
        const by = event.key === "ArrowLeft" ? -STEP : event.key === "ArrowRight" ? STEP : 0;
        if (by === 0) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(held(left + by));
      }}
    />
  );
}
