import { memo } from "react";

import type { PlanReport } from "../api/types";
import { paint } from "../theme/system";

const SIDE = 300;
const TALL = 150;

/** The plan from above, north up: field of view, feet of elements, standpoint, the sun's side. */
export const PlanFromAbove = memo(function PlanFromAbove({ plan }: { plan: PlanReport }) {
  const scale = TALL / (2 * plan.half_m);
  const at = ([east = 0, north = 0]: readonly number[]) => `${(SIDE / 2 + east * scale).toFixed(1)} ${(TALL * 0.5 - north * scale).toFixed(1)}`;
  const bar = plan.scale_bar_m * scale;
  return (
    <svg viewBox={`0 0 ${SIDE} ${TALL}`} width="100%" height="100%" preserveAspectRatio="xMidYMid slice" role="img" aria-label="Plan from above, north up">
      <rect width={SIDE} height={TALL} fill={paint("lake")} />
      <path d={`M${plan.wedge.map(at).join("L")}Z`} fill={paint("panel")} opacity="0.55" stroke={paint("ink")} strokeWidth="0.8" />
      {plan.elements.map((element) => (
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
      <text x="16" y={TALL - 22} fontSize="11" fill={paint("ink")}>
        {plan.scale_bar_text}
      </text>
      <text x={SIDE - 16} y="18" fontSize="11" fill={paint("ink")} textAnchor="middle">
        N
      </text>
      <path d={`M${SIDE - 16} 38V23m-3 5l3-5l3 5`} stroke={paint("ink")} fill="none" />
    </svg>
  );
});
