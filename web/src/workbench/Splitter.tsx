import { Box } from "@chakra-ui/react";
import { type RefObject, useRef } from "react";

import { held, type Panes, type Part, RANGES } from "./panes";

const STEP = 0.02;

interface Props {
  /** What of the panes it moves, and how it is called. */
  part: Part;
  label: string;
  panes: Panes;
  putPanes: (part: Partial<Panes>) => void;
  /** The box whose width or height is shared out. */
  within: RefObject<HTMLElement | null>;
}

const line = (token: string, size: string, across: boolean) =>
  `linear-gradient({colors.${token}}, {colors.${token}}) center / ${across ? `${size} 100%` : `100% ${size}`} no-repeat`;

/** A line between two panes: dragged, or moved by arrow keys; a double press puts it back. */
export function Splitter({ part, label, panes, putPanes, within }: Props) {
  const share = panes[part];
  const onMove = (to: number) => putPanes({ [part]: to });
  const dragging = useRef(false);
  const { least, most, usual, side } = RANGES[part];
  const across = side === "left";
  const at = (x: number, y: number) => {
    const box = within.current?.getBoundingClientRect();
    if (!box) return;
    const measured = across ? (x - box.left) / box.width : (box.bottom - y) / box.height;
    onMove(held(part, measured));
  };
  const [less, more] = across ? ["ArrowLeft", "ArrowRight"] : ["ArrowDown", "ArrowUp"];
  return (
    <Box
      role="separator"
      aria-orientation={across ? "vertical" : "horizontal"}
      aria-label={label}
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={least * 100}
      aria-valuemax={most * 100}
      tabIndex={0}
      {...(across ? { w: "9px", mx: "-4px" } : { h: "9px", my: "-5px" })}
      zIndex={2}
      flexShrink="0"
      cursor={across ? "col-resize" : "row-resize"}
      css={{
        touchAction: "none",
        background: across ? line("line", "1px", across) : undefined,
        "&:hover, &:focus-visible": { background: line("moss", "3px", across) },
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        dragging.current = true;
      }}
      onPointerMove={(event) => dragging.current && at(event.clientX, event.clientY)}
      onPointerUp={() => (dragging.current = false)}
      onPointerCancel={() => (dragging.current = false)}
      onDoubleClick={() => onMove(usual)}
      onKeyDown={(event) => {
        const by = event.key === less ? -STEP : event.key === more ? STEP : 0;
        if (by === 0) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(held(part, share + by));
      }}
    />
  );
}
