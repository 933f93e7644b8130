/** What a device senses, as the browser gives it: where it is, how it is turned, and how sure it is of both. */

export type Sensed<T> = { state: "asking" } | { state: "trouble"; words: string } | { state: "there"; value: T };

export interface Turned {
  /** Where the back of the device looks, clockwise from magnetic north, degrees; null where the browser knows no north. */
  azimuth: number | null;
  /** How far up it looks from level, degrees. */
  pitch: number;
  /** Within how much the compass is right, degrees, as the device says; else what phones usually keep to. */
  error: number;
}

/** What a phone's compass keeps to away from iron (common practice); beside a car or a fence it is worse by far. */
export const USUAL_ERROR_DEG = 5;
const RAD = Math.PI / 180;

/**
 * Where the back camera looks, out of the angles of the W3C's Device Orientation Event: the device's -z axis in the frame of
 * east, north and up, R = Rz(alpha) Rx(beta) Ry(gamma).
 */
export function looksTo(alpha: number, beta: number, gamma: number): { azimuth: number; pitch: number } {
  const [ca, sa] = [Math.cos(alpha * RAD), Math.sin(alpha * RAD)];
  const [cb, sb] = [Math.cos(beta * RAD), Math.sin(beta * RAD)];
  const [cg, sg] = [Math.cos(gamma * RAD), Math.sin(gamma * RAD)];
  const east = -(ca * sg + sa * sb * cg);
  const north = -(sa * sg - ca * sb * cg);
  const up = -(cb * cg);
  const azimuth = (Math.atan2(east, north) / RAD + 360) % 360;
  return { azimuth, pitch: Math.asin(Math.min(1, Math.max(-1, up))) / RAD };
}

type OfSomeBrowsers = DeviceOrientationEvent & { webkitCompassHeading?: number; webkitCompassAccuracy?: number };
type Asks = { requestPermission?: () => Promise<"granted" | "denied"> };

/** Ask for leave to sense how the device is turned, where the browser wants to be asked; in answer to a press. */
export async function mayTurn(): Promise<boolean> {
  if (typeof DeviceOrientationEvent === "undefined") return false;
  const asks = DeviceOrientationEvent as unknown as Asks;
  return asks.requestPermission ? (await asks.requestPermission()) === "granted" : true;
}

/** Be told how the device is turned, as it turns. Returns how to stop. */
export function whenTurned(call: (turned: Turned) => void): () => void {
  let absolute = false;
  const hear = (event: Event) => {
    const { alpha, beta, gamma, webkitCompassHeading, webkitCompassAccuracy } = event as OfSomeBrowsers;
    if (beta === null || gamma === null) return;
    const known = (event as DeviceOrientationEvent).absolute || event.type === "deviceorientationabsolute";
    // Some browsers send both kinds: the one that knows north speaks.
    if (absolute && !known && webkitCompassHeading === undefined) return;
    absolute ||= known;
    const looks = looksTo(alpha ?? 0, beta, gamma);
    // There the heading is that of the top of the device held flat; held upright it is where its back looks.
    const north = webkitCompassHeading ?? (known && alpha !== null ? looks.azimuth : null);
    const error = webkitCompassAccuracy !== undefined && webkitCompassAccuracy > 0 ? webkitCompassAccuracy : USUAL_ERROR_DEG;
    call({ azimuth: north, pitch: looks.pitch, error });
  };
  window.addEventListener("deviceorientationabsolute", hear);
  window.addEventListener("deviceorientation", hear);
  return () => {
    window.removeEventListener("deviceorientationabsolute", hear);
    window.removeEventListener("deviceorientation", hear);
  };
}

export interface Position {
  latitude: number;
  longitude: number;
  accuracy: number;
  elevation: number | null;
}

const WHY: Record<number, string> = {
  1: "This browser may not tell where you are. Allow it for this site, or type the position.",
  2: "This device does not find where it is: go where it sees the sky, or type the position.",
  3: "This device takes too long to find where it is: try again under open sky, or type the position.",
};

/** Be told where the device is, better and better. Returns how to stop. */
export function whenMoved(call: (position: Position) => void, trouble: (words: string) => void): () => void {
  if (!("geolocation" in navigator)) {
    trouble("This browser tells no position: type it.");
    return () => undefined;
  }
  const id = navigator.geolocation.watchPosition(
    ({ coords }) =>
      call({
        latitude: coords.latitude,
        longitude: coords.longitude,
        accuracy: coords.accuracy,
        elevation: coords.altitude,
      }),
    (error) => trouble(WHY[error.code] ?? error.message),
    { enableHighAccuracy: true, timeout: 30_000, maximumAge: 0 },
  );
  return () => navigator.geolocation.clearWatch(id);
}
