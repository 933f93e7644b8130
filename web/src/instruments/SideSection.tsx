import { memo } from "react";

import type { SectionReport } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";

const WIDE = 300;
const TALL = 138;
const GROUND = TALL - 16;
const LEFT = 46;

/** The side section along the lens axis: camera height, the support's reach, the frame's lower edge. */
export const SideSection = memo(function SideSection({ section }: { section: SectionReport }) {
  const x = (m: number) => LEFT + (m / section.length_m) * (WIDE - LEFT);
  const y = (m: number) => GROUND - (m / section.height_m) * (GROUND - 20);
  const head = y(section.camera_m);
  return (
    <svg viewBox={`0 0 ${WIDE} ${TALL}`} width="100%" height="100%" preserveAspectRatio="xMidYMid slice" role="img" aria-label={`Side section; the lens is ${section.camera.text} up, the support reaches ${section.reach_text}`}>
      <rect width={WIDE} height={TALL} fill={paint("sky")} />
      <rect y={GROUND} width={WIDE} height={TALL - GROUND} fill={paint("tone1")} />
      {section.boxes.map((box) => (
        <rect key={box.id} x={x(box.left)} y={y(box.high)} width={Math.max(x(box.right) - x(box.left), 2)} height={Math.max(y(box.low) - y(box.high), 3)} fill={paint(`tone${box.tone}`)} />
      ))}
      <path d={`M${LEFT} ${head}L${x(section.axis_end[0])} ${y(section.axis_end[1])}`} stroke={paint("ink")} strokeWidth="1" strokeDasharray="1 4" />
      <path d={`M${LEFT} ${head}L${x(section.lower_edge_end[0])} ${y(section.lower_edge_end[1])}`} stroke={paint("ink")} strokeWidth="1.1" strokeDasharray="5 3" />
      <path d={`M${LEFT} ${head + 4}L${LEFT - 9} ${GROUND}M${LEFT} ${head + 4}V${GROUND}M${LEFT} ${head + 4}L${LEFT + 9} ${GROUND}`} stroke={paint("ink")} strokeWidth="2" />
      <rect x={LEFT - 8} y={head - 6} width="16" height="11" fill={paint("ink")} />
      <path d={`M18 ${y(section.reach_high_m)}h6m-3 0V${y(section.reach_low_m)}m-3 0h6`} stroke={paint("moss")} strokeWidth="1.4" fill="none" />
      <Label x="30" y="12" size={11} fill={paint("ink")}>
        reach {section.reach_text}
      </Label>
      <Label x={LEFT + 12} y={head - 8} size={11} fill={paint("ink")} halo={paint("sky")}>
        {section.camera.text}
      </Label>
    </svg>
  );
});
