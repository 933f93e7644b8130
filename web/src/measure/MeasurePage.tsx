import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import { compositionQuery, compositionsQuery, sequenceQuery } from "../api/queries";
import type { Element } from "../api/types";
import { ChoiceField } from "../shell/fields";
import { TopBar } from "../shell/TopBar";
import { BearingMeasure } from "./BearingMeasure";
import { MeasuredList } from "./MeasuredList";
import { PictureMeasure } from "./PictureMeasure";
import { PositionMeasure } from "./PositionMeasure";
import { ReadingMeasure } from "./ReadingMeasure";
import { SkylineMeasure } from "./SkylineMeasure";
import { NoteMeasure } from "./NoteMeasure";

const WHAT = {
  position: "Where I stand",
  aim: "The aim",
  bearing: "Something in sight",
  skyline: "The skyline",
  reading: "A reading",
  picture: "A picture",
  note: "A note",
} as const;
type What = keyof typeof WHAT;

export interface Of {
  id: string;
  name: string;
  elements: Element[];
}

/** The composition that something is measured for: by its own id, or by that of a sequence that was taken along. */
function useOf(compositionId: string, sequenceId: string): Of | undefined {
  const sequence = useQuery({ ...sequenceQuery(sequenceId), enabled: sequenceId !== "" });
  const briefs = useQuery(compositionsQuery);
  const id = compositionId || (sequence.data?.composition_id ?? "");
  const whole = useQuery({ ...compositionQuery(id), enabled: id !== "" });
  if (!id) return undefined;
  const elements = whole.data?.composition.elements ?? sequence.data?.plan.scene?.composition.elements ?? [];
  const name = briefs.data?.find((one) => one.id === id)?.name ?? sequence.data?.plan.composition_name ?? "This composition";
  return { id, name, elements };
}

/** Measuring on the spot: each thing by the device's own senses or typed, with how sure it is. */
export default function MeasurePage() {
  const [params, setParams] = useSearchParams();
  const sequence = params.get("sequence") ?? "";
  const briefs = useQuery(compositionsQuery);
  const of = useOf(params.get("of") ?? "", sequence);
  const [what, setWhat] = useState<What>("position");
  const choose = (id: string) => setParams(id ? { of: id } : {}, { replace: true });
  return (
    <Flex direction="column" minH="100%">
      <TopBar />
      <Box
        as="main"
        px="4"
        py="3"
        w="100%"
        maxW="560px"
        mx="auto"
        css={{ "& input, & select": { height: "48px", fontSize: "17px" }, "& summary": { paddingBlock: "15px" } }}
      >
        {sequence ? (
          <Link
            to={`/field/${sequence}`}
            style={{ textDecoration: "underline", display: "inline-flex", minHeight: 48, alignItems: "center" }}
          >
            ← Back to the sequence
          </Link>
        ) : null}
        <chakra.h1 fontSize="24px" fontWeight="700" mb="2">
          Measure on the spot
        </chakra.h1>
        {sequence ? (
          <Box mb="2">For {of?.name ?? "…"}</Box>
        ) : (
          <ChoiceField
            label="For which composition"
            value={of?.id ?? ""}
            options={[
              ["", "choose one …"],
              ...(briefs.data ?? []).map((one) => [one.id, `${one.name}, ${one.place_name}`] as const),
            ]}
            onCommit={choose}
          />
        )}
        {of ? (
          <>
            <Box display="grid" gridTemplateColumns="1fr 1fr" gap="8px" my="3" role="group" aria-label="What to measure">
              {(Object.keys(WHAT) as What[]).map((one) => (
                <Button
                  key={one}
                  h="48px"
                  aria-pressed={one === what}
                  variant={one === what ? "solid" : "outline"}
                  onClick={() => setWhat(one)}
                >
                  {WHAT[one]}
                </Button>
              ))}
            </Box>
            <Box bg="panel" borderWidth="1px" borderColor="line" p="3" key={`${what}${of.id}`}>
              {what === "position" ? <PositionMeasure of={of} /> : null}
              {what === "aim" ? <BearingMeasure of={of} what="aim" /> : null}
              {what === "bearing" ? <BearingMeasure of={of} what="element" /> : null}
              {what === "skyline" ? <SkylineMeasure of={of} /> : null}
              {what === "reading" ? <ReadingMeasure of={of} /> : null}
              {what === "picture" ? <PictureMeasure of={of} /> : null}
              {what === "note" ? <NoteMeasure of={of} /> : null}
            </Box>
            <MeasuredList of={of} />
          </>
        ) : null}
      </Box>
    </Flex>
  );
}
