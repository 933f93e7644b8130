import { type PointerEvent as ReactPointerEvent, type RefObject, useCallback, useEffect, useState } from "react";

import { dragState } from "./dragState";

/** A pointer's place in the drawing's own units. */
export function placeIn(svg: SVGSVGElement | null, event: { clientX: number; clientY: number }): [number, number] | null {
  const matrix = svg?.getScreenCTM();
  if (!matrix) return null;
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
  return [point.x, point.y];
}

/**
 * Dragging in a drawing. While something is held the drawing keeps still: `held` carries what it looked
 * like when it was taken hold of. Every move is told; who is told takes
 * the last place of those that it cannot follow.
 */
export function useDrag<What, Frozen>(
  svg: RefObject<SVGSVGElement | null>,
  onMove: (what: What, x: number, y: number, frozen: Frozen) => void,
) {
  const [held, setHeld] = useState<{ what: What; frozen: Frozen } | null>(null);
  useEffect(
    () => () => {
      dragState.busy = false;
    },
    [],
  );
  const grab = useCallback(
    (what: What, frozen: Frozen) => (event: ReactPointerEvent) => {
      if (event.button !== 0) return;
      event.preventDefault();
      event.stopPropagation();
      (event.currentTarget as HTMLElement | SVGElement).focus?.();
      svg.current?.setPointerCapture(event.pointerId);
      dragState.busy = true;
      setHeld({ what, frozen });
    },
    [svg],
  );
  const move = useCallback(
    (event: ReactPointerEvent) => {
      if (!held) return;
      const place = placeIn(svg.current, event);
      if (place) onMove(held.what, place[0], place[1], held.frozen);
    },
    [held, onMove, svg],
  );
  const drop = useCallback(() => {
    dragState.busy = false;
    setHeld(null);
  }, []);
  return { held, grab, handlers: { onPointerMove: move, onPointerUp: drop, onPointerCancel: drop } };
}

/** Turns of the wheel over a drawing, one for each notch, without scrolling the page. */
export function useWheel(svg: RefObject<SVGSVGElement | null>, onTurn: ((up: boolean) => void) | undefined) {
  useEffect(() => {
    const element = svg.current;
    if (!element || !onTurn) return;
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      if (event.deltaY) onTurn(event.deltaY < 0);
    };
    element.addEventListener("wheel", turn, { passive: false });
    return () => element.removeEventListener("wheel", turn);
  }, [svg, onTurn]);
}
