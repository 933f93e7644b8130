import { Box, Button, chakra, CloseButton, Dialog, Flex, Portal } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type RefObject, useEffect, useMemo, useRef, useState } from "react";

import { problemOf, wordsOf } from "../api/client";
import type { FrameOut, Mishap, ProofOut } from "../api/types";
import { Segments } from "../shell/fields";
import { Loading } from "../shell/states";
import { type Other, useBench } from "../workbench/context";
import { Beside } from "./Beside";
import { DrawnPicture, type Marked, MarkLegend } from "./DrawnPicture";
import { asImage, LONGEST_PX, planOf, proofOf, type Subject, useDrawnInTurn, within } from "./drawing";
import { MishapChoice } from "./MishapChoice";
import { Histogram } from "./Histogram";
import { Magnifier, PIECE } from "./Magnifier";
import { Pointer } from "./Pointer";
import { Strip } from "./Strip";

const STEP = 0.02;

type Mode = "frames" | "merged" | "beside" | "shutters" | "apertures";

interface Props {
  onClose: () => void;
  /** What is compared at once. */
  beside?: Other | undefined;
}

/** Rehearse: the frames one by one, what is merged from them, and what another shutter, aperture, way or mishap makes of it. */
export default function RehearsalRoom({ onClose, beside }: Props) {
  const keys = useRef<Keys>(null);
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && onClose()} size="full">
      <Portal>
        <Dialog.Positioner>
          {/* Keys are heard wherever the focus is in it: opened, it is on no part of the room yet. */}
          <Dialog.Content
            aria-label="Rehearse"
            bg="ground"
            color="ink"
            boxShadow="none"
            borderRadius="0"
            h="100dvh"
            overflow="hidden"
            onKeyDown={(event) => keys.current?.(event)}
          >
            <Room beside={beside} keysRef={keys} />
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" color="ink" aria-label="Close" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

type Keys = (event: KeyboardEvent) => void;

function Room({ beside, keysRef }: { beside: Other | undefined; keysRef: RefObject<Keys | null> }) {
  const { store, state } = useBench();
  const [mishap, setMishap] = useState<Mishap | null>(null);
  const [mode, setMode] = useState<Mode>(beside ? "beside" : "frames");
  const [number, setNumber] = useState(1);
  const [marked, setMarked] = useState(true);
  const [close, setClose] = useState(true);
  const [at, setAt] = useState<readonly [number, number]>();
  const { scene } = store;
  const subject = useMemo<Subject | null>(
    () => (scene ? { scene, changes: [], mishaps: mishap ? [mishap] : [] } : null),
    // The scene is another one with each revision.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [store, state.revision, mishap],
  );
  const plan = useQuery({
    queryKey: ["rehearsal", subject],
    queryFn: async ({ signal }) => {
      if (!subject) throw new Error("no scene");
      return await planOf(subject, signal);
    },
    enabled: subject !== null,
    placeholderData: (before) => before,
    gcTime: 10_000,
  });
  const report = plan.data;
  const wanted = useMemo(() => report?.frames.map(({ number: one }) => ({ number: one, longest_px: LONGEST_PX })) ?? [], [report]);
  const drawnIn = mode === "frames" || mode === "merged";
  const turn = useDrawnInTurn(subject, drawnIn ? wanted : NONE, number - 1);
  const all = turn.frames.size >= wanted.length && wanted.length > 0;
  const proof = useQuery({
    queryKey: ["proof", subject],
    queryFn: async ({ signal }) => {
      if (!subject) throw new Error("no scene");
      return await proofOf(subject, { longest_px: LONGEST_PX }, signal);
    },
    enabled: subject !== null && mode === "merged" && all,
    gcTime: 10_000,
  });
  const last = Math.max(report?.frames.length ?? 1, 1);
  const shownNumber = Math.min(number, last);
  const where = at ?? report?.apertures_at ?? MIDDLE;
  const flip = (by: number) => setNumber(Math.min(Math.max(shownNumber + by, 1), last));
  const keys = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLElement && ["INPUT", "SELECT", "TEXTAREA"].includes(event.target.tagName)) return;
    const arrows: Record<string, readonly [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const way = arrows[event.key];
    if (way && event.shiftKey) setAt([within(where[0] + way[0] * STEP), within(where[1] + way[1] * STEP)]);
    else if (event.key === "ArrowLeft") flip(-1);
    else if (event.key === "ArrowRight") flip(1);
    else if (event.key === "m") setMode((now) => (now === "merged" ? "frames" : "merged"));
    else if (event.key === "z") setClose((now) => !now);
    else if (event.key === "x") setMarked((now) => !now);
    else return;
    event.preventDefault();
  };
  useEffect(() => {
    keysRef.current = keys;
  });
  if (!subject)
    return (
      <Box role="alert" p="6">
        The composition is not complete.
      </Box>
    );
  if (plan.isError && !report)
    return (
      <Box role="alert" color="rust" p="6">
        {wordsOf(problemOf(plan.error))}
      </Box>
    );
  if (!report) return <Loading what="the frames" />;
  const drawn = turn.frames.get(shownNumber - 1);
  // What was there before stays, pale, until the new is drawn: nothing jumps under the hand.
  const frame = drawn ?? turn.before.get(shownNumber - 1);
  const stale = mode === "frames" && drawn === undefined;
  const shown: (FrameOut | ProofOut) | undefined = mode === "merged" ? proof.data : frame;
  const marks: Marked = !shown
    ? {}
    : "soft" in shown
      ? { soft: shown.soft, lost: shown.lost, ghosts: shown.ghosts }
      : { clipped: shown.clipped, blocked: shown.blocked };
  const modes: (readonly [Mode, string])[] = [
    ["frames", last > 1 ? "Frame by frame" : "The frame"],
    ...(report.frames.filter((one) => one.merged).length > 1 ? ([["merged", "Merged"]] as const) : []),
    ["beside", "Beside another"],
    ...(report.shutters.length > 0 ? ([["shutters", "Shutter times"]] as const) : []),
    ...(report.apertures.length > 1 ? ([["apertures", "Apertures"]] as const) : []),
  ];
  return (
    <Flex direction="column" h="100%" minH="0" p="12px 16px" gap="10px" data-testid="rehearsal">
      <Flex align="center" gap="4" wrap="wrap" pr="44px">
        <Dialog.Title fontSize="18px">Rehearse</Dialog.Title>
        <Segments label="What to see" value={mode} options={modes} onCommit={setMode} />
        {drawnIn ? (
          <Box fontSize="13px" color="muted" aria-live="polite">
            {all ? "" : `drawing frame ${Math.min(turn.frames.size + 1, last)} of ${last} …`}
          </Box>
        ) : null}
      </Flex>
      <Flex flex="1" minH="0" gap="16px" direction={{ base: "column", lg: "row" }} overflowY={{ base: "auto", lg: "visible" }}>
        <Flex direction="column" flex={{ base: "none", lg: "1" }} minW="0" minH="0" gap="8px">
          <Box flex={{ base: "none", lg: "1" }} h={{ base: "48dvh", lg: "auto" }} minH="200px" position="relative">
            {drawnIn ? (
              shown ? (
                <DrawnPicture
                  pale={stale}
                  jpeg={shown.jpeg}
                  width={shown.width}
                  height={shown.height}
                  label={shown.told.title}
                  marks={marked ? marks : {}}
                >
                  {close ? (
                    <Pointer crop={store.snapshot().evaluation?.framing.crop ?? WHOLE} at={where} onMove={setAt} shown={shown} />
                  ) : null}
                </DrawnPicture>
              ) : turn.error || proof.error ? (
                <Box role="alert" color="rust">
                  {wordsOf(problemOf(turn.error ?? proof.error))}{" "}
                  <Button size="sm" variant="outline" onClick={turn.retry}>
                    Draw again
                  </Button>
                </Box>
              ) : (
                <Loading what={mode === "merged" ? "the merged picture" : "the frame"} />
              )
            ) : mode === "beside" ? (
              <Beside subject={subject} first={beside} />
            ) : mode === "shutters" ? (
              <Strip
                subject={subject}
                of="shutter_s"
                steps={report.shutters}
                at={report.shutters_at}
                now={state.draft.composition.settings.shutter_s}
                onTake={(value) => store.act("strip", { kind: "set", setting: "shutter", value })}
              />
            ) : (
              <Strip
                subject={subject}
                of="aperture_n"
                steps={report.apertures}
                at={where}
                now={state.draft.composition.settings.aperture_n}
                onTake={(value) => store.act("strip", { kind: "set", setting: "aperture", value })}
              />
            )}
          </Box>
          {mode === "frames" && last > 1 ? (
            <Flex gap="6px" overflowX="auto" flexShrink="0" pb="4px" role="group" aria-label="Frames">
              {report.frames.map((one) => {
                const made = turn.frames.get(one.number - 1);
                return (
                  <chakra.button
                    key={one.number}
                    type="button"
                    flexShrink="0"
                    w="104px"
                    borderWidth="2px"
                    borderColor={one.number === shownNumber ? "ink" : "transparent"}
                    bg="panel"
                    textAlign="left"
                    cursor="pointer"
                    onClick={() => setNumber(one.number)}
                    aria-label={`Frame ${one.number}: ${one.title}`}
                    aria-current={one.number === shownNumber}
                  >
                    <Box h="64px" overflow="hidden" bg="tone1">
                      {made ? (
                        <chakra.img src={asImage(made.jpeg)} alt="" w="100%" h="100%" objectFit="cover" className="lr-drawn" />
                      ) : null}
                    </Box>
                    <Box px="4px" fontSize="11.5px" whiteSpace="nowrap" overflow="hidden" textOverflow="ellipsis">
                      {one.number} {one.title}
                    </Box>
                  </chakra.button>
                );
              })}
            </Flex>
          ) : null}
        </Flex>
        <Flex
          direction="column"
          gap="12px"
          w={{ base: "100%", lg: `${PIECE.across}px` }}
          flexShrink="0"
          overflowY={{ base: "visible", lg: "auto" }}
        >
          {drawnIn && shown ? (
            <>
              <Box aria-live="polite" opacity={stale ? 0.6 : 1}>
                <Box fontWeight="700">
                  {mode === "frames" && last > 1 ? `${shownNumber} of ${last}: ` : ""}
                  {shown.told.title}
                </Box>
                {"settings" in shown.told ? (
                  <>
                    <Box fontFamily="mono" fontSize="13.5px">
                      {shown.told.settings}
                    </Box>
                    <Box fontSize="13px">
                      {shown.told.clipped} · {shown.told.blocked}
                    </Box>
                  </>
                ) : (
                  shown.told.told.map((text) => (
                    <Box key={text} fontSize="13.5px">
                      {text}
                    </Box>
                  ))
                )}
              </Box>
              <Histogram heights={shown.told.histogram} />
              <MarkLegend marks={marks} />
              {close ? (
                <Magnifier
                  subject={subject}
                  number={mode === "merged" ? undefined : shownNumber}
                  at={where}
                  longest_px={LONGEST_PX}
                  marked={marked}
                />
              ) : null}
            </>
          ) : null}
          <MishapChoice offered={report.mishaps} mishap={mishap} count={last} onMishap={setMishap} />
          <Box fontSize="12.5px" color="muted">
            {report.invented.map((text) => (
              <Box key={text}>{text}</Box>
            ))}
            {drawnIn ? (
              <Box mt="1">
                <kbd>←</kbd> <kbd>→</kbd> frames · <kbd>M</kbd> merged · <kbd>X</kbd> marks · <kbd>Z</kbd> look closely,{" "}
                <kbd>Shift</kbd> and arrows move there
              </Box>
            ) : null}
          </Box>
        </Flex>
      </Flex>
    </Flex>
  );
}

const NONE: readonly never[] = [];
const WHOLE = [0, 0, 1, 1] as const;
const MIDDLE = [0.5, 0.5] as const;
