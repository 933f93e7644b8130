import type { Place } from "../api/types";

type Skyline = Place["skyline"];
type Tide = NonNullable<Place["tide"]>;

/** A measured skyline as it is typed: a point a line. */
export const skylineText = (skyline: Skyline) => skyline.map((p) => `${p.azimuth_deg}, ${p.altitude_deg}`).join("\n");

/** Points of a typed skyline, or what is wrong with it. */
export function typedSkyline(text: string): Skyline | string {
  const points: Skyline = [];
  for (const [i, line] of text.split("\n").entries()) {
    if (!line.trim()) continue;
    const numbers = line
      .trim()
      .replaceAll("−", "-")
      .replaceAll("°", " ")
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(Number);
    const [azimuth_deg, altitude_deg] = numbers;
    if (numbers.length !== 2 || azimuth_deg === undefined || altitude_deg === undefined || numbers.some((n) => !Number.isFinite(n)))
      return `Line ${i + 1}: give an azimuth and an altitude, such as 110, 8.5.`;
    points.push({ azimuth_deg, altitude_deg });
  }
  return points;
}

/** A pasted tide station, null for none, or what is wrong with it. The server checks what is in it. */
export function typedTide(text: string): Tide | null | string {
  if (!text.trim()) return null;
  try {
    const read: unknown = JSON.parse(text);
    if (typeof read !== "object" || read === null || !("constituents" in read))
      return 'This needs a name and a list of "constituents".';
    return read as Tide;
  } catch {
    return "This is no JSON; paste the whole of it, from { to }.";
  }
}
