// @vitest-environment jsdom
import { describe, expect, it } from "vitest";

import { looksTo, whenTurned, type Turned } from "./senses";
import { readPoints } from "./SkylineMeasure";

/** Where the back of a device looks, by turning the vector itself: R = Rz(alpha) Rx(beta) Ry(gamma), as the W3C's text has it. */
function turnedVector(alpha: number, beta: number, gamma: number) {
  const [a, b, c] = [alpha, beta, gamma].map((one) => (one * Math.PI) / 180) as [number, number, number];
  let [x, y, z] = [0, 0, -1];
  [x, z] = [x * Math.cos(c) + z * Math.sin(c), -x * Math.sin(c) + z * Math.cos(c)];
  [y, z] = [y * Math.cos(b) - z * Math.sin(b), y * Math.sin(b) + z * Math.cos(b)];
  [x, y] = [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)];
  return [x, y, z] as const;
}

describe("where the back of a device looks", () => {
  it("is down when it lies on its back, and level to the north when it stands", () => {
    expect(looksTo(0, 0, 0).pitch).toBeCloseTo(-90);
    expect(looksTo(0, 90, 0).azimuth % 360).toBeCloseTo(0);
    expect(looksTo(0, 90, 0).pitch).toBeCloseTo(0);
  });

  it("goes with alpha against the clock, and up with beta over ninety", () => {
    expect(looksTo(90, 90, 0).azimuth).toBeCloseTo(270);
    expect(looksTo(270, 90, 0).azimuth).toBeCloseTo(90);
    expect(looksTo(0, 120, 0).pitch).toBeCloseTo(30);
    expect(looksTo(0, 60, 0).pitch).toBeCloseTo(-30);
  });

  it("is that of the vector turned about each axis in turn", () => {
    for (let k = 0; k < 200; k++) {
      const [alpha, beta, gamma] = [(k * 37) % 360, ((k * 53) % 360) - 180, ((k * 29) % 180) - 90];
      const { azimuth, pitch } = looksTo(alpha, beta, gamma);
      const [east, north, up] = turnedVector(alpha, beta, gamma);
      expect(Math.sin((pitch * Math.PI) / 180)).toBeCloseTo(up, 9);
      const level = Math.hypot(east, north);
      expect(level * Math.sin((azimuth * Math.PI) / 180)).toBeCloseTo(east, 9);
      expect(level * Math.cos((azimuth * Math.PI) / 180)).toBeCloseTo(north, 9);
    }
  });
});

it("tells no north where the browser knows none, and believes the one that does", () => {
  const told: Turned[] = [];
  const stop = whenTurned((one) => told.push(one));
  const send = (type: string, absolute: boolean) =>
    window.dispatchEvent(Object.assign(new Event(type), { alpha: 90, beta: 90, gamma: 0, absolute }));
  send("deviceorientation", false);
  send("deviceorientationabsolute", true);
  send("deviceorientation", false);
  stop();
  send("deviceorientationabsolute", true);
  expect(told.map((one) => one.azimuth)).toEqual([null, 270]);
});

it("reads points of a skyline as they are typed", () => {
  expect(readPoints("90 4.5\n100, 8;  120\t11.5\n\nnorth 3")).toEqual([
    { azimuth_deg: 90, altitude_deg: 4.5 },
    { azimuth_deg: 100, altitude_deg: 8 },
    { azimuth_deg: 120, altitude_deg: 11.5 },
  ]);
});
