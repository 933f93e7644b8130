import { useId } from "react";

import { paint } from "../theme/system";

/** Hatchings, so that no meaning hangs on colour alone. Each drawing makes its own, by id. */
export function useHatches() {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const url = (name: string) => `url(#${id}-${name})`;
  const defs = (
    <defs>
      <pattern id={`${id}-upright`} width="6" height="6" patternUnits="userSpaceOnUse">
        <path d="M3 0V6" stroke={paint("rust")} strokeWidth="1.6" />
      </pattern>
      <pattern id={`${id}-left`} width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M4 0V9" stroke={paint("moss")} strokeWidth="2.6" />
      </pattern>
      <pattern id={`${id}-right`} width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
        <path d="M4 0V9" stroke={paint("moss")} strokeWidth="2.6" />
      </pattern>
      <pattern id={`${id}-shade`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(35)">
        <path d="M3 0V7" stroke={paint("ground")} strokeWidth="0.8" opacity="0.55" />
      </pattern>
      <pattern id={`${id}-cast`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-35)">
        <path d="M3 0V7" stroke={paint("edge")} strokeWidth="1.2" opacity="0.4" />
      </pattern>
      <pattern id={`${id}-gold`} width="5" height="5" patternUnits="userSpaceOnUse">
        <circle cx="1.5" cy="1.5" r="0.9" fill={paint("rust")} opacity="0.75" />
      </pattern>
      <pattern id={`${id}-gap`} width="6" height="6" patternUnits="userSpaceOnUse">
        <path d="M0 0L6 6M6 0L0 6" stroke={paint("rust")} strokeWidth="1.2" />
      </pattern>
      <pattern id={`${id}-ripple`} width="170" height="42" patternUnits="userSpaceOnUse">
        <path d="M8 6H46M96 13H122M30 22H64M130 30H166M70 37H88" stroke={paint("cloud")} strokeWidth="2" opacity="0.75" />
      </pattern>
    </defs>
  );
  return { defs, url };
}
