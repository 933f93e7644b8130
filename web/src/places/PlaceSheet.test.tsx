// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, it, vi } from "vitest";

import { api } from "../api/client";
import { show } from "../shell/componentTest";
import { PlaceSheet } from "./PlaceSheet";

afterEach(() => vi.restoreAllMocks());

const FOUND = { latitude_deg: 54.1, longitude_deg: -2.4, time_zone: "Europe/London", elevation_m: null, terrain_id: null };

/** A server that finds positions as it is told, and notes what is saved. */
function server(locate: () => Promise<unknown>) {
  const sent: unknown[] = [];
  vi.spyOn(api, "GET").mockResolvedValue({ data: { terrains: [], next: null }, response: new Response() } as never);
  vi.spyOn(api, "POST").mockImplementation((async (path: string, { body }: { body: unknown }) => {
    if (path === "/api/places/locate") return await locate();
    sent.push(body);
    return { data: { id: "x" }, response: new Response() };
  }) as never);
  return sent;
}

async function fillAndSave() {
  show(<PlaceSheet place={undefined} onClose={() => undefined} />);
  await userEvent.type(await screen.findByLabelText("name"), "Hollow moss");
  await userEvent.type(screen.getByLabelText("position, as written or pasted"), "54.1, -2.4");
  await userEvent.click(screen.getByRole("button", { name: "Save" }));
}

it("saves the position that was pasted, also when Save is pressed before it is read", async () => {
  let answer: (found: unknown) => void = () => undefined;
  const sent = server(() => new Promise((resolve) => (answer = resolve)));
  await fillAndSave();
  expect(sent).toEqual([]);
  answer({ data: FOUND, response: new Response() });
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({ place: { name: "Hollow moss", latitude_deg: 54.1, longitude_deg: -2.4 } });
});

it("saves nothing while what was pasted cannot be read", async () => {
  const error = { title: "No", status: 422, detail: "This is no position.", errors: [] };
  const sent = server(() => Promise.resolve({ error, response: new Response(null, { status: 422 }) }));
  await fillAndSave();
  await screen.findByText("This is no position.");
  await userEvent.click(screen.getByRole("button", { name: "Save" }));
  expect(sent).toEqual([]);
});
