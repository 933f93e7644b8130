import { useEffect } from "react";
import { useMap } from "react-leaflet";

/** Names that would lie across one another are left out, what is chosen and places first; hovering still tells them. */
function declutter(container: HTMLElement) {
  const names = [...container.querySelectorAll<HTMLElement>(".lr-mark span")].filter((name) => name.textContent);
  const weight = (name: HTMLElement) =>
    name.closest(".lr-mark")?.getAttribute("data-strong") === "yes" ? 0 : name.closest("[alt^='place ']") ? 1 : 2;
  names.sort((a, b) => weight(a) - weight(b));
  const kept: DOMRect[] = [];
  for (const name of names) {
    const box = name.getBoundingClientRect();
    const hit = kept.some((one) => one.left < box.right && one.right > box.left && one.top < box.bottom && one.bottom > box.top);
    name.style.visibility = hit ? "hidden" : "visible";
    if (!hit) kept.push(box);
  }
}

/** Keeps the names on the map apart, whenever it moves or what is on it changes. */
export function Declutter({ of }: { of: unknown }) {
  const map = useMap();
  useEffect(() => {
    const again = () => declutter(map.getContainer());
    const soon = window.setTimeout(again, 60);
    map.on("zoomend moveend resize", again);
    return () => {
      window.clearTimeout(soon);
      map.off("zoomend moveend resize", again);
    };
  }, [map, of]);
  return null;
}
