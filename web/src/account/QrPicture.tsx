import { paint } from "../theme/system";
import { useTheme } from "../theme/ThemeChoice";

/**
 * A QR code from its rows of 0 and 1. Dark on light in every theme, since not every camera reads it the other way round; in the
 * dark ones the light is that of the text, so that nobody is blinded.
 */
export function QrPicture({ rows, size, label }: { rows: string[]; size: number; label: string }) {
  const { theme } = useTheme();
  const wide = rows.length + 8;
  const path = rows.flatMap((row, y) => [...row].map((cell, x) => (cell === "1" ? `M${x + 4} ${y + 4}h1v1h-1z` : ""))).join("");
  return (
    <svg
      role="img"
      aria-label={label}
      width={size}
      height={size}
      viewBox={`0 0 ${wide} ${wide}`}
      shapeRendering="crispEdges"
      style={{ maxWidth: "100%", background: paint(theme === "day" ? "raised" : "ink") }}
    >
      <path d={path} fill={paint(theme === "day" ? "ink" : "ground")} />
    </svg>
  );
}
