import { type PointerEvent as ReactPointerEvent, type RefObject, useCallback, useEffect, useRef, useState } from "react";

import { hand } from "./hand";

/** A pointer's place in the drawing's own units. */
export function placeIn(svg: SVGSVGElement | null, event: { clientX: number; clientY: number }): [number, number] | null {
  const matrix = svg?.getScreenCTM();
  if (!matrix) return null;
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
  return [point.x, point.y];
}

/**
 * Dragging in a drawing. While something is held the drawing keeps still: `held` carries what it looked
 * like when it was taken hold of. Moves are told once a picture, with the last place.
 */
export function useDrag<What, Frozen>(svg: RefObject<SVGSVGElement | null>, onMove: (what: What, x: number, y: number, frozen: Frozen) => void) {
  const [held, setHeld] = useState<{ what: What; frozen: Frozen } | null>(null);
  const last = useRef<[number, number] | null>(null);
  const frame = useRef(0);
  useEffect(
    () => () => {
      cancelAnimationFrame(frame.current);
      hand.busy = false;
    },
    [],
  );
  const grab = useCallback((what: What, frozen: Frozen) => (event: ReactPointerEvent) => {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    (event.currentTarget as HTMLElement | SVGElement).focus?.();
    svg.current?.setPointerCapture(event.pointerId);
    hand.busy = true;
    setHeld({ what, frozen });
  }, [svg]);
  const move = useCallback(
    (event: ReactPointerEvent) => {
      if (!held) return;
      last.current = placeIn(svg.current, event);
      if (frame.current) return;
      frame.current = requestAnimationFrame(() => {
        frame.current = 0;
        if (last.current) onMove(held.what, last.current[0], last.current[1], held.frozen);
      });
    },
    [held, onMove, svg],
  );
  const drop = useCallback(() => {
    hand.busy = false;
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
