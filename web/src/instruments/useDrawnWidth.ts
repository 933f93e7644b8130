import { useLayoutEffect, useRef, useState } from "react";

const USUAL = 600;
const LEAST = 260;

/**
 * The width that an instrument is drawn for, in pixels of its own: what it has on the page, 600 at most unless told otherwise.
 * On a phone its text so keeps its size, and only the drawing is narrower.
 */
export function useDrawnWidth(most = USUAL) {
  const svg = useRef<SVGSVGElement>(null);
  const [wide, setWide] = useState(USUAL);
  useLayoutEffect(() => {
    if (!svg.current) return;
    const put = (width: number) => {
      if (width > 0) setWide(Math.round(Math.min(Math.max(width, LEAST), most)));
    };
    put(svg.current.getBoundingClientRect().width);
    const watch = new ResizeObserver(([entry]) => entry && put(entry.contentRect.width));
    watch.observe(svg.current);
    return () => watch.disconnect();
  }, [most]);
  return [svg, wide] as const;
}
