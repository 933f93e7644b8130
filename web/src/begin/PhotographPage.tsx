import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";

import { api, ApiError, ask, wordsOf } from "../api/client";
import { placesQuery, renew, usualKitQuery } from "../api/queries";
import type { PhotographRead } from "../api/types";
import { upload } from "../api/upload";
import { FileButton, PHOTOGRAPHS } from "../shell/FileButton";
import { notifyTrouble } from "../shell/notices";
import { ChoiceField, NumberField, TextField } from "../shell/fields";
import { Loading } from "../shell/states";
import { Page } from "../shell/TopBar";
import { keepBench } from "../workbench/benchNames";
import { keepSide } from "../workbench/benches/useSide";
import { leadThroughMeasuring } from "../workbench/benches/frame/firstMeasuring";
import { useWhere } from "./useWhere";
import { NEW, WhereFields } from "./WhereFields";
import { freshId } from "../shell/freshId";

const typeOf = (file: File) =>
  file.type.startsWith("image/") && !file.type.includes("x-") ? file.type : "application/octet-stream";

const COMPASS = ["N", "NNE", "NE", "ENE", "E", "ESE", "SE", "SSE", "S", "SSW", "SW", "WSW", "W", "WNW", "NW", "NNW"].map(
  (name, i) => [String(i * 22.5), name] as const,
);

/** A place to drop a photograph, or to choose one. */
function Drop({ busy, onFile }: { busy: boolean; onFile: (file: File) => void }) {
  const [over, setOver] = useState(false);
  return (
    <Flex
      direction="column"
      align="center"
      justify="center"
      gap="3"
      textAlign="center"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor={over ? "moss" : "muted"}
      bg={over ? "mossFaint" : "panel"}
      minH={{ base: "220px", md: "320px" }}
      p="6"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const file = event.dataTransfer.files[0];
        if (file) onFile(file);
      }}
    >
      <Box fontSize="18px" fontWeight="700">
        Drop a photograph here
      </Box>
      <FileButton label="Photograph" accept={PHOTOGRAPHS} busy={busy} onFile={onFile} size="md">
        Choose a photograph
      </FileButton>
      <Box color="muted" maxW="34rem">
        JPEG, HEIC, TIFF, PNG, WebP, or the camera’s raw file. It stays on this server, as it is. What it does not tell is asked
        next.
      </Box>
    </Flex>
  );
}

/** A photograph that was read, with the one short form of what it did not tell. */
function Read({ file, read, again }: { file: File; read: PhotographRead; again: () => void }) {
  const go = useNavigate();
  const places = useQuery(placesQuery);
  const formats = useQuery(usualKitQuery);
  const { facts, missing } = read;
  const lacks = (what: PhotographRead["missing"][number]) => missing.includes(what);
  const where = useWhere(
    facts.latitude_deg === null || facts.longitude_deg === null
      ? undefined
      : { name: "", position: `${facts.latitude_deg.toFixed(6)}, ${facts.longitude_deg.toFixed(6)}` },
  );
  const stem = file.name.replace(/\.[^.]*$/, "").slice(0, 80) || "Photograph";
  const [name, setName] = useState(stem);
  const [place, setPlace] = useState<string>(read.place_id ?? NEW);
  const [taken, setTaken] = useState("");
  const [direction, setDirection] = useState("");
  const [format, setFormat] = useState("full");
  const [equivalent, setEquivalent] = useState<number | null>(28);
  const shown = useMemo(() => (/^image\/(jpeg|png|webp)$/.test(file.type) ? URL.createObjectURL(file) : ""), [file]);
  useEffect(() => () => URL.revokeObjectURL(shown), [shown]);
  const begin = useMutation({
    mutationFn: async () => {
      const at = place === NEW ? await ask(api.POST("/api/places/locate", { body: { text: where.position } })) : null;
      const photograph = freshId();
      const made = await ask(
        api.POST("/api/beginnings/photograph", {
          body: {
            name,
            photograph_id: photograph,
            facts: {
              ...facts,
              ...(lacks("time") && taken ? { taken } : {}),
              ...(lacks("direction") ? { direction_deg: Number(direction || 0) } : {}),
              ...(lacks("focal_length") ? { equivalent_mm: equivalent } : {}),
            },
            ...(at
              ? { place: { name: where.name || name, latitude_deg: at.latitude_deg, longitude_deg: at.longitude_deg } }
              : { place_id: place }),
            body_id: read.body_id,
            lens_id: read.lens_id,
            format: lacks("sensor") ? (formats.data?.find((one) => one.id === format)?.id ?? null) : null,
          },
        }),
      );
      // The composition is there; a picture that does not follow can be attached on its Frame bench.
      await upload(
        "PUT",
        `/api/compositions/${made.id}/photographs/${photograph}?name=${encodeURIComponent(file.name.slice(0, 200))}`,
        file,
        typeOf(file),
        () => undefined,
      ).catch(notifyTrouble);
      return made;
    },
    onSuccess: (made) => {
      void renew("kit", "places", "compositions");
      // The next thing to do is to measure what is in it.
      keepBench("frame");
      keepSide("frame", "photograph");
      leadThroughMeasuring(made.id);
      void go(`/compositions/${made.id}`);
    },
  });
  const error = begin.error instanceof ApiError ? begin.error : null;
  const position = error?.field("/text") ?? error?.field("latitude_deg");
  return (
    <Box display="grid" gridTemplateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 360px" }} gap="6" alignItems="start">
      <Box>
        {shown ? (
          <chakra.img
            src={shown}
            alt={file.name}
            maxH={{ base: "240px", md: "420px" }}
            maxW="100%"
            borderWidth="1px"
            borderColor="line"
            mb="3"
          />
        ) : (
          <Box bg="panel" borderWidth="1px" borderColor="line" p="6" mb="3" color="muted">
            {file.name}
          </Box>
        )}
        <Box as="section" aria-label="What it tells">
          <chakra.h2 fontSize="16px" fontWeight="700" mb="1">
            {read.told.length > 0 ? "It tells" : "It tells nothing of when, where and how it was taken"}
          </chakra.h2>
          <Box as="dl" display="grid" gridTemplateColumns="110px minmax(0, 1fr)" columnGap="3" rowGap="2px">
            {read.told.map((line) => (
              <Box key={line.label} display="contents">
                <Box as="dt" color="muted">
                  {line.label}
                </Box>
                <Box as="dd" overflowWrap="anywhere">
                  {line.text}
                  {line.worked_out ? <chakra.span color="muted"> (worked out)</chakra.span> : null}
                </Box>
              </Box>
            ))}
          </Box>
        </Box>
      </Box>
      <Flex direction="column" gap="3" bg="panel" borderWidth="1px" borderColor="line" p="4" as="section" aria-label="Still to say">
        <chakra.h2 fontSize="16px" fontWeight="700">
          {missing.length > 0 ? "Still to say" : "Nothing more to say"}
        </chakra.h2>
        <TextField label="name of the composition" value={name} onCommit={setName} />
        {places.data ? (
          <WhereFields places={places.data} chosen={place} onChoose={setPlace} where={where} error={position} />
        ) : null}
        {lacks("time") ? (
          <TextField
            label="taken, by the clock there"
            value={taken}
            placeholder="2026-10-18 07:25"
            hint="Left empty: now."
            error={error?.field("/facts/taken")}
            onCommit={setTaken}
          />
        ) : null}
        {lacks("direction") ? (
          <ChoiceField
            label="looking to"
            value={direction}
            options={[["", "I do not know yet"], ...COMPASS]}
            hint="Roughly; the workbench lines it up by what you measure."
            onCommit={setDirection}
          />
        ) : null}
        {lacks("sensor") && formats.data ? (
          <ChoiceField
            label="sensor or film"
            value={format}
            options={formats.data.map((one) => [one.id, one.name] as const)}
            onCommit={setFormat}
          />
        ) : null}
        {lacks("focal_length") ? (
          <NumberField
            label="focal length, for 35 mm film"
            unit="mm"
            value={equivalent}
            hint="A phone’s usual lens is about 26 mm."
            error={error?.field("equivalent_mm")}
            onCommit={(mm) => mm !== null && setEquivalent(mm)}
          />
        ) : null}
        {error && !position ? (
          <Box role="alert" color="rust">
            {wordsOf(error.problem)}
          </Box>
        ) : null}
        <Flex gap="2">
          <Button variant="solid" size="md" flex="1" loading={begin.isPending} onClick={() => begin.mutate()}>
            Open the workbench
          </Button>
          <Button size="md" onClick={again}>
            Another
          </Button>
        </Flex>
      </Flex>
    </Box>
  );
}

/** A first composition from a photograph. */
export default function PhotographPage() {
  const [file, setFile] = useState<File | null>(null);
  const read = useMutation({
    mutationFn: (chosen: File) =>
      upload<PhotographRead>("POST", "/api/beginnings/photograph/read", chosen, typeOf(chosen), () => undefined),
  });
  const take = (chosen: File) => {
    setFile(chosen);
    read.mutate(chosen);
  };
  return (
    <Page title="Begin from a photograph" intro="It becomes a composition, with the picture under the view to measure from.">
      {read.isError ? (
        <Box role="alert" borderLeftWidth="4px" borderColor="rust" bg="panel" p="4" mb="4">
          <b>{file?.name}:</b> {read.error instanceof ApiError ? wordsOf(read.error.problem) : "The server does not answer."}{" "}
          <Link to="/begin" style={{ textDecoration: "underline" }}>
            Begin with a kind of picture instead
          </Link>
        </Box>
      ) : null}
      {read.isPending ? <Loading what="what it tells" /> : null}
      {file && read.data ? (
        <Read key={file.name + file.lastModified} file={file} read={read.data} again={() => read.reset()} />
      ) : read.isPending ? null : (
        <Drop busy={read.isPending} onFile={take} />
      )}
    </Page>
  );
}
