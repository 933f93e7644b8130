import { describe, expect, it } from "vitest";

import { sceneOf } from "./scene";

const composition = { settings: {} } as never;
const draft = { name: "x", place_id: "p", body_id: "b", lens_id: "l", support_id: "s", composition };
const item = (id: string, kind: string) => ({ id, version: 1, updated_at: "", item: { kind, details: { name: kind } } }) as never;
const places = [{ id: "p", place: { name: "Tarn" } }] as never;

describe("the scene of a draft", () => {
  it("is put together from place and kit, with all filters owned", () => {
    const kit = [item("b", "body"), item("l", "lens"), item("s", "support"), item("f", "filter"), item("g", "filter")];
    const scene = sceneOf(draft, { kit, places, units: "feet", forecast: null });
    expect(scene).toMatchObject({
      place: { name: "Tarn" },
      units: "feet",
      forecast: null,
      kit: { body: { name: "body" }, filters: [{ name: "filter" }, { name: "filter" }] },
    });
  });

  it("names what is missing instead", () => {
    expect(sceneOf(draft, { kit: [item("b", "body")], places, units: "metric", forecast: null })).toBe("lens");
    expect(sceneOf(draft, { kit: [], places: [], units: "metric", forecast: null })).toBe("place");
  });
});
