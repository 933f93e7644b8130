import { memo } from "react";

import type { PlanReport } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";

const SIDE = 300;
const TALL = 138;

/** The plan from above, north up: field of view, feet of elements, standpoint, the sun's side. */
export const PlanFromAbove = memo(function PlanFromAbove({ plan }: { plan: PlanReport }) {
  const scale = TALL / (2 * plan.half_m);
  const at = ([east = 0, north = 0]: readonly number[]) => `${(SIDE / 2 + east * scale).toFixed(1)} ${(TALL * 0.5 - north * scale).toFixed(1)}`;
  const lying = plan.elements.filter((element) => element.lying);
  const standing = plan.elements.filter((element) => !element.lying);
  const bar = plan.scale_bar_m * scale;
  return (
    <svg viewBox={`0 0 ${SIDE} ${TALL}`} width="100%" height="100%" preserveAspectRatio="xMidYMid slice" role="img" aria-label="Plan from above, north up">
      <rect width={SIDE} height={TALL} fill={paint("tone0")} opacity="0.6" />
      {lying.map((element) => (
        <path key={element.id} d={`M${element.foot.map(at).join("L")}Z`} fill={paint("cloud")} opacity="0.6" stroke={paint("muted")} strokeWidth="0.6">
          <title>{element.name}</title>
        </path>
      ))}
      <path d={`M${plan.wedge.map(at).join("L")}Z`} fill={paint("panel")} opacity="0.6" stroke={paint("ink")} strokeWidth="0.9" />
      {standing.map((element) => (
        <path key={element.id} d={`M${element.foot.map(at).join("L")}Z`} fill={paint(`tone${element.tone}`)} opacity={element.in_frame ? 0.85 : 0.4} stroke={paint("edge")} strokeWidth="0.6">
          <title>{element.name}</title>
        </path>
      ))}
      {plan.sun ? (
        <g>
          <path d={`M${SIDE / 2} ${TALL / 2}l${plan.sun[0] * 54} ${-plan.sun[1] * 54}`} stroke={paint("rust")} strokeWidth="1.2" strokeDasharray="4 3" />
          <circle cx={SIDE / 2 + plan.sun[0] * 62} cy={TALL / 2 - plan.sun[1] * 62} r="6" fill={paint("cloud")} stroke={paint("rust")} strokeWidth="2" />
        </g>
      ) : null}
      <circle cx={SIDE / 2} cy={TALL / 2} r="5" fill={paint("rust")} stroke={paint("panel")} strokeWidth="1.5" />
      <path d={`M14 ${TALL - 12}v-5v2.500h${bar}v-2.500v5`} stroke={paint("ink")} strokeWidth="1.2" fill="none" />
      <Label x="16" y={TALL - 22} size={11} fill={paint("ink")}>
        {plan.scale_bar_text}
      </Label>
      <Label x={SIDE - 16} y="18" size={11} fill={paint("ink")} textAnchor="middle">
        N
      </Label>
      <path d={`M${SIDE - 16} 38V23m-3 5l3-5l3 5`} stroke={paint("ink")} fill="none" />
    </svg>
  );
});
