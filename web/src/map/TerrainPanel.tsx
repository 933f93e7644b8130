import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { api, ask, problemOf } from "../api/client";
import { terrainsQuery } from "../api/queries";
import type { PlaceOut, TerrainOut } from "../api/types";
import { upload } from "../api/upload";
import { TextField } from "../shell/fields";
import { notify, notifyTrouble } from "../shell/notices";
import { Progress } from "../shell/Progress";
import { freshId } from "../shell/freshId";

const KINDS: Record<string, string> = { tif: "image/tiff", tiff: "image/tiff", asc: "text/plain", txt: "text/plain" };

const inside = (place: PlaceOut, one: TerrainOut) =>
  place.place.latitude_deg >= one.south_deg &&
  place.place.latitude_deg <= one.north_deg &&
  place.place.longitude_deg >= one.west_deg &&
  place.place.longitude_deg <= one.east_deg;

/** Terrain models: what is there, and bringing in another with its progress. */
export function TerrainPanel({ places }: { places: PlaceOut[] }) {
  const client = useQueryClient();
  const terrains = useQuery({
    ...terrainsQuery,
    refetchInterval: (query) => (query.state.data?.some((one) => one.state === "importing") ? 400 : false),
  });
  const chooser = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState<{ name: string; share: number }>();
  const [crs, setCrs] = useState("");
  const [wrong, setWrong] = useState<string>();
  const refresh = () => client.invalidateQueries({ queryKey: ["terrains"] });

  const send = async (file: File) => {
    setWrong(undefined);
    setSending({ name: file.name, share: 0 });
    const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "terrain";
    const kind = KINDS[file.name.split(".").at(-1)?.toLowerCase() ?? ""] ?? "application/octet-stream";
    const query = new URLSearchParams({ name, ...(crs ? { crs } : {}) });
    try {
      await upload<TerrainOut>("PUT", `/api/terrains/${freshId()}?${query.toString()}`, file, kind, (share) =>
        setSending({ name: file.name, share }),
      );
      await refresh();
    } catch (error) {
      const problem = problemOf(error);
      setWrong(problem.errors[0]?.message ?? `${problem.title}. ${problem.detail}`);
    } finally {
      setSending(undefined);
    }
  };
  const remove = (one: TerrainOut) =>
    ask(api.DELETE("/api/terrains/{id}", { params: { path: { id: one.id } } })).then(() => {
      void refresh();
      notify({
        title: `“${one.name}” deleted`,
        detail: "Places that use it count a level horizon.",
        undo: () =>
          void ask(api.POST("/api/terrains/{id}/restore", { params: { path: { id: one.id } } })).then(refresh, notifyTrouble),
      });
    }, notifyTrouble);
  const use = async (one: TerrainOut, chosen: PlaceOut[]) => {
    try {
      for (const { id, version, place, access, parking, walk_in, right_of_way, hazards, seasons } of chosen)
        await ask(
          api.PUT("/api/places/{id}", {
            params: { path: { id } },
            body: {
              version,
              access,
              parking,
              walk_in,
              right_of_way,
              hazards,
              seasons,
              place: { ...place, horizon: "terrain", terrain_id: one.id },
            },
          }),
        );
      notify({
        title:
          chosen.length === 1
            ? `${chosen[0]?.place.name ?? "The place"} now has this horizon`
            : `${chosen.length} places now have this horizon`,
      });
    } catch (error) {
      notifyTrouble(error);
    }
    void client.invalidateQueries({ queryKey: ["places"] });
  };
  return (
    <Box as="section" aria-label="Terrain models">
      <Flex align="center" gap="2" mb="1">
        <chakra.h2 fontSize="15px" fontWeight="700" flex="1">
          Terrain
        </chakra.h2>
        <Button variant="outline" disabled={sending !== undefined} onClick={() => chooser.current?.click()}>
          Import terrain
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".tif,.tiff,.asc,.txt"
          hidden
          aria-label="Terrain file"
          data-testid="terrain-file"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) void send(file);
          }}
        />
      </Flex>
      <Box fontSize="12.5px" color="muted" mb="1">
        GeoTIFF or ESRI ASCII grid, heights in metres.
      </Box>
      {sending ? <Progress words={`Sending ${sending.name}`} share={sending.share} /> : null}
      {wrong ? (
        <Box role="alert" color="rust" fontSize="13px" mb="2">
          {wrong}
          {wrong.includes("EPSG") ? (
            <Box mt="1">
              <TextField label="coordinate system of the next file" value={crs} placeholder="EPSG:32630" onCommit={setCrs} />
            </Box>
          ) : null}
        </Box>
      ) : null}
      {terrains.data?.length === 0 && !sending ? (
        <Box fontSize="13px">None yet. With one, the true skyline of every place in it is known.</Box>
      ) : null}
      {terrains.data?.map((one) => {
        const unused = places.filter((p) => inside(p, one) && p.place.terrain_id !== one.id);
        return (
          <Box key={one.id} borderTopWidth="1px" borderColor="line" py="2" data-testid="terrain">
            <Flex gap="2" align="start">
              <Box flex="1" minW="0">
                <Box fontWeight="600">{one.name}</Box>
                {one.state === "ready" ? (
                  <Box fontSize="12px" color="muted" fontFamily="mono">
                    {one.lowest_m.toFixed(0)} to {one.highest_m.toFixed(0)} m
                    {one.void_share >= 0.0005 ? `, ${(one.void_share * 100).toFixed(1)}% was void` : ""}
                    <br />
                    {one.source_text}
                  </Box>
                ) : one.state === "failed" ? (
                  <Box color="rust" fontSize="13px">
                    {one.problem}
                  </Box>
                ) : (
                  <Progress words="Bringing it into place" share={one.done} />
                )}
              </Box>
              {one.state === "ready" ? (
                <a
                  href={`/api/terrains/${one.id}/file`}
                  download
                  style={{ textDecoration: "underline", fontSize: 13, lineHeight: "30px" }}
                >
                  GeoTIFF
                </a>
              ) : null}
              <Button aria-label={`Delete ${one.name}`} onClick={() => void remove(one)}>
                Delete
              </Button>
            </Flex>
            {one.state === "ready" && unused.length > 0 ? (
              <Button
                mt="1"
                variant="outline"
                h="auto"
                py="1"
                whiteSpace="normal"
                textAlign="left"
                onClick={() => void use(one, unused)}
              >
                Use it for {unused.length === 1 ? unused[0]?.place.name : `the ${unused.length} places in it`}
              </Button>
            ) : null}
          </Box>
        );
      })}
    </Box>
  );
}
