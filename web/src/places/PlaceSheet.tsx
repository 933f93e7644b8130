import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { api, ApiError, ask } from "../api/client";
import { queryClient } from "../api/queries";
import type { PlaceOut } from "../api/types";
import { NumberField, TextField } from "../shell/fields";
import { Sheet } from "../shell/Sheet";

const FRESH = { name: "", latitude_deg: 0, longitude_deg: 0, elevation_m: 0, time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC" };

/** Add or change a place; the server's field errors stand beside the fields. */
export function PlaceSheet({ place, onClose }: { place: PlaceOut | undefined; onClose: () => void }) {
  const [draft, setDraft] = useState(place?.place ?? FRESH);
  const [notes, setNotes] = useState({ access: place?.access ?? "", hazards: place?.hazards ?? "" });
  const [pasted, setPasted] = useState("");
  const locate = useMutation({
    mutationFn: async (text: string) => ask(api.POST("/api/places/locate", { body: { text } })),
    onSuccess: (found) => setDraft((now) => ({ ...now, ...found })),
  });
  const save = useMutation({
    mutationFn: async (version: number) => {
      const sent = { place: draft, ...notes };
      return place
        ? ask(api.PUT("/api/places/{id}", { params: { path: { id: place.id } }, body: { ...sent, version } }))
        : ask(api.POST("/api/places", { body: sent }));
    },
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: ["places"] });
      onClose();
    },
  });
  const error = save.error instanceof ApiError ? save.error : null;
  // A conflict carries what is saved now: it is shown, and saving again goes over it knowingly.
  const stale = error?.problem.status === 409 ? (error.problem as unknown as { current_version: number; current: PlaceOut }) : undefined;
  const number = (label: string, field: "latitude_deg" | "longitude_deg" | "elevation_m", unit: string) => (
    <NumberField label={label} unit={unit} width="150px" value={draft[field]} error={error?.field(`/place/${field}`)} onCommit={(v) => v !== null && setDraft({ ...draft, [field]: v })} step={field === "elevation_m" ? 10 : 0.01} />
  );
  return (
    <Sheet
      title={place ? `Edit ${place.place.name}` : "New place"}
      open
      onClose={onClose}
      wide
      footer={
        <Button variant="solid" size="md" loading={save.isPending} onClick={() => save.mutate(stale?.current_version ?? place?.version ?? 1)}>
          {stale ? "Save mine over it" : "Save"}
        </Button>
      }
    >
      <Flex direction="column" gap="3">
        <TextField label="name" value={draft.name} error={error?.field("/place/name")} onCommit={(name) => setDraft({ ...draft, name })} />
        <TextField
          label="position, as written or pasted"
          value={pasted}
          error={locate.error instanceof ApiError ? (locate.error.field("/text") ?? locate.error.problem.detail) : undefined}
          placeholder="54.1021, -2.4033 or 54° 06.13' N 2° 24.20' W"
          hint="Fills in latitude, longitude and time zone."
          onCommit={(text) => {
            setPasted(text);
            if (text.trim()) locate.mutate(text);
            else locate.reset();
          }}
        />
        <Flex gap="3" wrap="wrap">
          {number("latitude, north positive", "latitude_deg", "°")}
          {number("longitude, east positive", "longitude_deg", "°")}
          {number("elevation", "elevation_m", "m")}
        </Flex>
        <TextField label="time zone" value={draft.time_zone} error={error?.field("/place/time_zone")} onCommit={(time_zone) => setDraft({ ...draft, time_zone })} hint="A name such as Europe/Paris." />
        <TextField long label="access" value={notes.access} onCommit={(access) => setNotes({ ...notes, access })} />
        <TextField long label="hazards" value={notes.hazards} onCommit={(hazards) => setNotes({ ...notes, hazards })} hint="Shown before a sequence starts in the field. Follow local rules." />
        {error && error.problem.errors.length === 0 ? (
          <Box role="alert" color="rust">
            {error.problem.title}. {error.problem.detail}{" "}
            {stale ? (
              <Box color="ink" mt="1">
                Saved now: {stale.current.place.name}, {stale.current.place.latitude_deg}°, {stale.current.place.longitude_deg}°. {stale.current.access} {stale.current.hazards}
              </Box>
            ) : null}
          </Box>
        ) : null}
      </Flex>
    </Sheet>
  );
}
