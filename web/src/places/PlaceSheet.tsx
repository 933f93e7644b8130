import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { api, ApiError, ask } from "../api/client";
import { renew, terrainsQuery } from "../api/queries";
import type { Place, PlaceOut, Season } from "../api/types";
import { ChoiceField, NumberField, TextField } from "../shell/fields";
import { More } from "../shell/More";
import { Sheet } from "../shell/Sheet";
import { Seasons } from "./Seasons";
import { skylineText, typedSkyline, typedTide } from "./sky";

const FRESH: Place = {
  name: "",
  latitude_deg: 0,
  longitude_deg: 0,
  elevation_m: 0,
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC",
  horizon: "flat",
  skyline: [],
  terrain_id: null,
  tide: null,
};
const HORIZONS = [
  ["flat", "level"],
  ["sea", "the sea, from this height"],
  ["measured", "measured: azimuth and altitude"],
  ["terrain", "from a terrain model"],
] as const;
const NOTES = [
  ["access", "access", undefined],
  ["parking", "parking", undefined],
  ["walk_in", "walk in", "How long, how far up."],
  ["right_of_way", "right of way", "Whose land, which path. Ask where in doubt."],
  ["hazards", "hazards", "Shown before a sequence starts in the field. Follow local rules."],
] as const;

interface Props {
  place: PlaceOut | undefined;
  /** Where a new place was pointed at on the map. */
  start?: { latitude_deg: number; longitude_deg: number };
  onClose: () => void;
  /** Told of the place once it is saved. */
  onSaved?: (place: PlaceOut) => void;
}

/** Add or change a place; the server's field errors stand beside the fields. */
export function PlaceSheet({ place, start, onClose, onSaved }: Props) {
  const terrains = useQuery(terrainsQuery);
  const [draft, setDraft] = useState<Place>(place?.place ?? { ...FRESH, ...start });
  const [notes, setNotes] = useState<Record<(typeof NOTES)[number][0], string>>(() => ({
    access: "",
    parking: "",
    walk_in: "",
    right_of_way: "",
    hazards: "",
    ...place,
  }));
  const [seasons, setSeasons] = useState<Season[]>(place?.seasons ?? []);
  const [pasted, setPasted] = useState("");
  // What is typed stays as it is, also where it cannot be read yet.
  const [typed, setTyped] = useState(() => ({
    skyline: skylineText(draft.skyline),
    tide: draft.tide ? JSON.stringify(draft.tide, null, 1) : "",
  }));
  const skyline = typedSkyline(typed.skyline);
  const tide = typedTide(typed.tide);
  const wrong = { skyline: typeof skyline === "string" ? skyline : undefined, tide: typeof tide === "string" ? tide : undefined };
  const put = (part: Partial<Place>) => setDraft((now) => ({ ...now, ...part }));
  const locate = useMutation({
    mutationFn: async (text: string): Promise<Partial<Place>> => {
      const { elevation_m, terrain_id, ...found } = await ask(api.POST("/api/places/locate", { body: { text } }));
      const high = { elevation_m, terrain_id: terrain_id ?? null, horizon: "terrain" as const };
      return { ...found, ...(typeof elevation_m === "number" ? { ...high, elevation_m } : {}) };
    },
    onSuccess: put,
  });
  // A press on Save may come before the answer to what was pasted: what is saved has it all the same.
  const sought = useRef<Promise<Partial<Place>> | null>(null);
  const { mutateAsync: find } = locate;
  const askWhere = useCallback(
    (text: string) => {
      const now = find(text);
      sought.current = now;
      now.then(
        () => {
          if (sought.current === now) sought.current = null;
        },
        () => undefined,
      );
    },
    [find],
  );
  const asked = useRef(false);
  useEffect(() => {
    if (!start || asked.current) return;
    asked.current = true;
    askWhere(`${start.latitude_deg.toFixed(6)}, ${start.longitude_deg.toFixed(6)}`);
  }, [start, askWhere]);
  const save = useMutation({
    mutationFn: async (version: number) => {
      const { access, parking, walk_in, right_of_way, hazards } = notes;
      const whole = {
        ...draft,
        ...(await sought.current),
        ...(typeof skyline === "string" ? {} : { skyline }),
        ...(typeof tide === "string" ? {} : { tide }),
      };
      const sent = { place: whole, access, parking, walk_in, right_of_way, hazards, seasons };
      return place
        ? ask(api.PUT("/api/places/{id}", { params: { path: { id: place.id } }, body: { ...sent, version } }))
        : ask(api.POST("/api/places", { body: sent }));
    },
    onSuccess: (saved) => {
      void renew("places");
      onSaved?.(saved);
      onClose();
    },
  });
  const error = save.error instanceof ApiError ? save.error : null;
  // A conflict carries what is saved now: it is shown, and saving again goes over it knowingly.
  const stale =
    error?.problem.status === 409 ? (error.problem as unknown as { current_version: number; current: PlaceOut }) : undefined;
  const number = (label: string, field: "latitude_deg" | "longitude_deg" | "elevation_m", unit: string) => (
    <NumberField
      label={label}
      unit={unit}
      width="150px"
      value={draft[field]}
      error={error?.field(`/place/${field}`)}
      onCommit={(v) => v !== null && put({ [field]: v })}
      step={field === "elevation_m" ? 10 : 0.01}
    />
  );
  const ready = (terrains.data ?? []).filter((one) => one.state === "ready");
  return (
    <Sheet
      title={place ? `Edit ${place.place.name}` : "New place"}
      open
      onClose={onClose}
      wide
      footer={
        <Button
          variant="solid"
          size="md"
          loading={save.isPending}
          disabled={Boolean((draft.horizon === "measured" && wrong.skyline) || wrong.tide)}
          onClick={() => save.mutate(stale?.current_version ?? place?.version ?? 1)}
        >
          {stale ? "Save mine over it" : "Save"}
        </Button>
      }
    >
      <Flex direction="column" gap="3">
        <TextField label="name" value={draft.name} error={error?.field("/place/name")} onCommit={(name) => put({ name })} />
        <TextField
          label="position, as written or pasted"
          value={pasted}
          error={locate.error instanceof ApiError ? (locate.error.field("/text") ?? locate.error.problem.detail) : undefined}
          placeholder="54.1021, -2.4033 or 54° 06.13' N 2° 24.20' W"
          hint="Fills in latitude, longitude, time zone, and the height where a terrain is known."
          onCommit={(text) => {
            setPasted(text);
            if (text.trim()) askWhere(text);
            else {
              sought.current = null;
              locate.reset();
            }
          }}
        />
        <More
          title="Position in numbers, horizon, access, hazards, seasons, tide"
          open={place !== undefined || Boolean(start) || (error?.problem.errors.length ?? 0) > 0}
        >
          <Flex gap="3" wrap="wrap">
            {number("latitude, north positive", "latitude_deg", "°")}
            {number("longitude, east positive", "longitude_deg", "°")}
            {number("elevation", "elevation_m", "m")}
          </Flex>
          <TextField
            label="time zone"
            value={draft.time_zone}
            error={error?.field("/place/time_zone")}
            onCommit={(time_zone) => put({ time_zone })}
            hint="A name such as Europe/Paris."
          />
          <Flex gap="3" wrap="wrap" align="start">
            <ChoiceField
              width="230px"
              label="horizon"
              value={draft.horizon}
              options={HORIZONS}
              onCommit={(horizon) => put({ horizon })}
            />
            {draft.horizon === "terrain" ? (
              <ChoiceField
                width="230px"
                label="terrain"
                value={draft.terrain_id ?? ""}
                error={error?.field("/place/terrain_id")}
                options={[
                  ["", ready.length > 0 ? "choose one" : "import one on the map first"],
                  ...ready.map((one) => [one.id, one.name] as const),
                ]}
                onCommit={(id) => put({ terrain_id: id === "" ? null : id })}
              />
            ) : null}
          </Flex>
          {draft.horizon === "measured" ? (
            <TextField
              long
              label="skyline, one point a line: azimuth, altitude"
              value={typed.skyline}
              placeholder={"95, 6.5\n110, 8\n131, 3"}
              error={wrong.skyline ?? error?.problem.errors.find((one) => one.pointer.includes("/skyline"))?.message}
              hint="From true north, in degrees, by compass and clinometer. Straight between neighbours."
              onCommit={(text) => setTyped((now) => ({ ...now, skyline: text }))}
            />
          ) : null}
          {NOTES.map(([field, label, hint]) => (
            <TextField
              key={field}
              long
              label={label}
              value={notes[field]}
              {...(hint ? { hint } : {})}
              onCommit={(text) => setNotes((now) => ({ ...now, [field]: text }))}
            />
          ))}
          <Seasons seasons={seasons} onCommit={setSeasons} />
          <TextField
            long
            label="tide, constituents as JSON"
            value={typed.tide}
            placeholder={
              '{"name": "harbour", "mean_m": 4.6, "constituents": [{"name": "M2", "amplitude_m": 2.9, "phase_deg": 318}]}'
            }
            error={wrong.tide ?? error?.problem.errors.find((one) => one.pointer.includes("/tide"))?.message}
            hint="Amplitudes in metres, phase lags at Greenwich. Leave empty away from the sea."
            onCommit={(text) => setTyped((now) => ({ ...now, tide: text }))}
          />
        </More>
        {error && error.problem.errors.length === 0 ? (
          <Box role="alert" color="rust">
            {error.problem.title}. {error.problem.detail}{" "}
            {stale ? (
              <Box color="ink" mt="1">
                Saved now: {stale.current.place.name}, {stale.current.place.latitude_deg}°, {stale.current.place.longitude_deg}°.{" "}
                {stale.current.access} {stale.current.hazards}
              </Box>
            ) : null}
          </Box>
        ) : null}
      </Flex>
    </Sheet>
  );
}
