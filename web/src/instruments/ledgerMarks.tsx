import { paint } from "../theme/system";

/** The mark of an entry: its shape says its kind. */
export function LedgerMark({ kind }: { kind: string }) {
  const ink = paint("ink");
  const line = { fill: "none", stroke: ink, strokeWidth: 1.6 };
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" style={{ flexShrink: 0 }}>
      {kind === "reading" ? <rect x="3" y="3" width="8" height="8" {...line} /> : null}
      {kind === "polariser" ? <circle cx="7" cy="7" r="4.200" {...line} /> : null}
      {kind === "nd" ? <rect x="2.500" y="2.500" width="9" height="9" fill={ink} /> : null}
      {kind === "graduated" ? <path d="M2.500 2.500h9v9Z" fill={ink} /> : null}
      {kind === "aperture" || kind === "iso" || kind === "working" ? (
        <path d="M7 1.500L12.500 7L7 12.500L1.500 7Z" {...line} />
      ) : null}
      {kind === "light" ? <path d="M7 2.500L12.500 11.500H1.500Z" fill={ink} /> : null}
      {kind === "choice" ? <path d="M7 2v10M2 7h10" {...line} strokeWidth="2" /> : null}
      {kind === "film" ? <path d="M2 3h10v8h-10ZM2 5.500h10M2 8.500h10" {...line} strokeWidth="1.2" /> : null}
      {kind === "seen" ? <path d="M2.500 7.500L6 11L12 3" {...line} strokeWidth="2" /> : null}
      {kind === "rounding" ? <circle cx="7" cy="7" r="1.800" fill={ink} /> : null}
    </svg>
  );
}
