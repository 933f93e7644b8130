import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import type { CompositionBrief, PlaceOut, TrackOut } from "../api/types";
import { monthName, SEASON_WORDS } from "../places/Seasons";
import { ChoiceField, TextField } from "../shell/fields";
import { notify, notifyTrouble } from "../shell/notices";

const SORTS = [
  ["walk_in", "walk in"],
  ["parking", "parking"],
  ["gate", "gate"],
  ["hazard", "hazard"],
  ["viewpoint", "viewpoint"],
  ["other", "other"],
] as const;

function Track({ track }: { track: TrackOut }) {
  const client = useQueryClient();
  const refresh = () => client.invalidateQueries({ queryKey: ["tracks"] });
  const { id, version, name, kind, sort, note, points, length_m } = track;
  const path = { params: { path: { id } } };
  const change = (part: Partial<Pick<TrackOut, "name" | "sort">>) =>
    ask(api.PUT("/api/tracks/{id}", { ...path, body: { version, name, kind, sort, note, points, ...part } })).then(
      refresh,
      notifyTrouble,
    );
  const remove = () =>
    ask(api.DELETE("/api/tracks/{id}", path)).then(() => {
      void refresh();
      notify({
        title: `“${name}” deleted`,
        undo: () => void ask(api.POST("/api/tracks/{id}/restore", path)).then(refresh, notifyTrouble),
      });
    }, notifyTrouble);
  return (
    <Flex gap="2" align="center" mb="1">
      <Box flex="1" minW="0">
        <TextField quiet label={`name of ${name}`} value={name} onCommit={(text) => void change({ name: text })} />
      </Box>
      <ChoiceField
        quiet
        label={`sort of ${name}`}
        width="104px"
        value={sort}
        options={SORTS}
        onCommit={(one) => void change({ sort: one })}
      />
      <Box fontFamily="mono" fontSize="12px" w="52px" textAlign="right">
        {kind === "path" ? `${(length_m / 1000).toFixed(1)} km` : ""}
      </Box>
      <Button aria-label={`Delete ${name}`} onClick={() => void remove()}>
        ×
      </Button>
    </Flex>
  );
}

const NOTES = [
  ["access", "Access"],
  ["parking", "Parking"],
  ["walk_in", "Walk in"],
  ["right_of_way", "Right of way"],
] as const;

/** What is known of the place that is chosen on the map. */
export function PlacePanel({
  place,
  compositions,
  tracks,
  onEdit,
}: {
  place: PlaceOut;
  compositions: CompositionBrief[];
  tracks: TrackOut[];
  onEdit: () => void;
}) {
  return (
    <Box as="section" aria-label={place.place.name}>
      <Flex align="center" gap="2" mb="1">
        <chakra.h2 fontSize="17px" fontWeight="700" flex="1">
          {place.place.name}
        </chakra.h2>
        <Button onClick={onEdit} aria-label={`Edit ${place.place.name}`}>
          Edit
        </Button>
      </Flex>
      <Box fontFamily="mono" fontSize="12px" color="muted" mb="2">
        {place.place.latitude_deg.toFixed(5)}, {place.place.longitude_deg.toFixed(5)} · {place.place.elevation_m.toFixed(0)} m
      </Box>
      {place.hazards ? (
        <Box borderLeftWidth="4px" borderColor="rust" pl="2" mb="2" fontSize="13.5px">
          {place.hazards}
        </Box>
      ) : null}
      {NOTES.map(([field, label]) =>
        place[field] ? (
          <Box key={field} fontSize="13.5px" mb="1">
            <b>{label}:</b> {place[field]}
          </Box>
        ) : null,
      )}
      {place.seasons.map((one, i) => (
        <Box key={i} fontSize="13px" color="muted">
          {monthName(one.from_month)} to {monthName(one.to_month)}: {SEASON_WORDS[one.kind]}
          {one.note ? `. ${one.note}` : ""}
        </Box>
      ))}
      {compositions.length > 0 ? (
        <Box mt="2">
          {compositions.map((one) => (
            <Box key={one.id} py="2px">
              <Link to={`/compositions/${one.id}`} style={{ textDecoration: "underline" }}>
                {one.name}
              </Link>
            </Box>
          ))}
        </Box>
      ) : null}
      {tracks.length > 0 ? (
        <Box mt="3">
          <Box fontSize="12px" color="muted" mb="1">
            paths and marks
          </Box>
          {tracks.map((one) => (
            <Track key={one.id} track={one} />
          ))}
        </Box>
      ) : null}
    </Box>
  );
}
