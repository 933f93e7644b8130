import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";

import { problemOf } from "../api/client";
import { renew } from "../api/queries";
import type { ImportOut, PlaceOut } from "../api/types";
import { upload } from "../api/upload";

const words = (n: number, one: string, many: string) => (n === 0 ? "" : `${n} ${n === 1 ? one : many}`);

type Known = "ask" | "skip" | "keep" | "merge";
/** What becomes of what is in a file and here already. */
const CHOICES = [
  ["skip", "Leave mine as they are"],
  ["merge", "Take the file's"],
  ["keep", "Keep both"],
] as const;

function ended(known: Known, already: number) {
  if (already === 0 || known === "keep") return "";
  return known === "merge" ? `${already} brought up to date` : `${already} here already, left as they are`;
}

/** Files that maps exchange: in, with what came of each, and out. */
export function FilesPanel({ chosen, onPlace }: { chosen: PlaceOut | undefined; onPlace: (id: string) => void }) {
  const chooser = useRef<HTMLInputElement>(null);
  const [told, setTold] = useState<{ name: string; text: string; wrong: boolean; skipped: ImportOut["skipped"] }[]>([]);
  const [asked, setAsked] = useState<{ file: File; already: string[] }[]>([]);
  const send = async (files: readonly File[], known: Known = "ask") => {
    const made: typeof told = [];
    const open: typeof asked = [];
    for (const file of files) {
      const query = new URLSearchParams({ name: file.name, known, ...(chosen ? { place_id: chosen.id } : {}) });
      const kind = file.name.toLowerCase().endsWith(".gpx") ? "application/gpx+xml" : "application/geo+json";
      try {
        const found = await upload<ImportOut>("POST", `/api/tracks/import?${query.toString()}`, file, kind, () => undefined);
        if (found.asked) {
          open.push({ file, already: found.already });
          continue;
        }
        const parts = [
          words(found.places, "place", "places"),
          words(found.paths, "path", "paths"),
          words(found.marks, "mark", "marks"),
        ].filter(Boolean);
        made.push({
          name: file.name,
          text: [parts.length > 0 ? `${parts.join(", ")} brought in` : "nothing new in it", ended(known, found.already.length)]
            .filter(Boolean)
            .join("; "),
          wrong: false,
          skipped: found.skipped,
        });
        if (found.first_place_id) onPlace(found.first_place_id);
      } catch (error) {
        const problem = problemOf(error);
        made.push({
          name: file.name,
          text: problem.errors[0]?.message.replace(`${file.name}: `, "") ?? `${problem.title}. ${problem.detail}`,
          wrong: true,
          skipped: [],
        });
      }
    }
    setTold(made);
    setAsked(open);
    void renew("places", "tracks");
  };
  const link = { textDecoration: "underline" } as const;
  return (
    <Box as="section" aria-label="Files">
      <Flex align="center" gap="2" mb="1">
        <chakra.h2 fontSize="15px" fontWeight="700" flex="1">
          Paths and points
        </chakra.h2>
        <Button variant="outline" onClick={() => chooser.current?.click()}>
          Import GPX or GeoJSON
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".gpx,.geojson,.json"
          multiple
          hidden
          aria-label="GPX or GeoJSON files"
          data-testid="geography-file"
          onChange={(e) => {
            const files = [...(e.target.files ?? [])];
            e.target.value = "";
            if (files.length > 0) void send(files);
          }}
        />
      </Flex>
      <Box fontSize="12.5px" color="muted">
        {chosen ? `What is in the file goes to ${chosen.place.name}.` : "Points become places; paths go to the nearest."}
      </Box>
      <Box role="status" fontSize="13px" data-testid="import-told">
        {told.map((one) => (
          <Box key={one.name} color={one.wrong ? "rust" : "ink"} mt="1">
            <b>{one.name}:</b> {one.text}
            {one.skipped.map((skip, i) => (
              <Box key={i} color="muted">
                passed over: {skip.name}, {skip.why}
              </Box>
            ))}
          </Box>
        ))}
      </Box>
      {asked.map(({ file, already }) => (
        <Box key={file.name} role="alert" borderLeftWidth="4px" borderColor="slate" pl="2" my="2" fontSize="13px">
          <b>{file.name}:</b> {already.slice(0, 3).join(", ")}
          {already.length > 3 ? ` and ${already.length - 3} more` : ""} {already.length === 1 ? "is" : "are"} here already.
          <Flex gap="2" mt="1" wrap="wrap">
            {CHOICES.map(([known, label]) => (
              <Button key={known} onClick={() => void send([file], known)}>
                {label}
              </Button>
            ))}
          </Flex>
        </Box>
      ))}
      <Flex gap="4" mt="1" fontSize="13px">
        <a href="/api/tracks/export.gpx" download style={link}>
          Export GPX
        </a>
        <a href="/api/tracks/export.geojson" download style={link}>
          Export GeoJSON
        </a>
      </Flex>
    </Box>
  );
}
