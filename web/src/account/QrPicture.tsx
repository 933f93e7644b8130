/** A QR code from its rows of 0 and 1: dark on light in every theme, since not every camera reads it the other way round. */
export function QrPicture({ rows, size, label }: { rows: string[]; size: number; label: string }) {
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
      style={{ maxWidth: "100%", background: "#f4f2ec" }}
    >
      <path d={path} fill="#111" />
    </svg>
  );
}
