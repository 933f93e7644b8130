import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";

import { renew } from "../api/queries";
import type { PlannedFrame, SequenceOut } from "../api/types";
import { SequenceStrip } from "../instruments/SequenceStrip";
import { ThemeButton } from "../theme/ThemeChoice";
import { Before } from "./Before";
import { CameraPanel } from "./CameraPanel";
import { makeClock } from "./clock";
import { FaultSheet } from "./FaultSheet";
import { FinishTake } from "./FinishTake";
import { DIMMED, useHands } from "./hands";
import { HoldButton } from "./HoldButton";
import { withInstead } from "./instead";
import { Row } from "./Row";
import { keepAwake, setSound, soundOn } from "./signals";
import { useCamera } from "./useCamera";
import { recall, useCarryOut } from "./useCarryOut";
import { useNextKey } from "./useNextKey";

function clockText(seconds: number) {
  const whole = Math.ceil(seconds - 1e-6);
  return whole >= 3600
    ? `${Math.floor(whole / 3600)}:${String(Math.floor((whole % 3600) / 60)).padStart(2, "0")}:${String(whole % 60).padStart(2, "0")}`
    : `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

type Run = ReturnType<typeof useCarryOut>;

/** Keep the screen on while something is carried out; the browser lets go of it whenever the page was out of sight. */
function useAwake(on: boolean) {
  useEffect(() => {
    if (!on) return undefined;
    let release: () => void = () => undefined;
    let over = false;
    const hold = () => {
      if (document.visibilityState === "visible") void keepAwake().then((free) => (over ? free() : (release = free)));
    };
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      document.removeEventListener("visibilitychange", hold);
      over = true;
      release();
    };
  }, [on]);
}

function Settings({ frame }: { frame: PlannedFrame }) {
  return (
    <Box borderWidth="1px" borderColor="line" bg="panel">
      {frame.aim ? <Row name="Aim" value={frame.aim} changed={frame.changed.includes("aim")} /> : null}
      <Row name="Focus" value={frame.focus.text} changed={frame.changed.includes("focus")} />
      <Row name="In front" value={frame.filters} changed={frame.changed.includes("filters")} />
      <Row name="Aperture, ISO" value={`${frame.aperture.text} · ${frame.iso.text}`} changed={frame.changed.includes("aperture")} />
      <Row name={frame.bulb ? "Bulb" : "Shutter"} value={frame.shutter.text} changed={frame.changed.includes("shutter")} />
    </Box>
  );
}

function waitsWords(frame: PlannedFrame) {
  if (frame.goes_on) return "the body takes this one by itself after the one before";
  return frame.timer_s > 0 ? `self-timer ${frame.timer_s} s, then ${frame.shutter.text}` : `shutter ${frame.shutter.text}`;
}

function Countdown({ run, frame, noted }: { run: Run; frame: PlannedFrame; noted: string }) {
  const { phase, running } = run;
  return (
    <Box textAlign="center" my="12px" aria-live="off" minH="118px">
      <Box fontFamily="mono" fontSize="76px" lineHeight="1.1" color={running ? "rust" : "muted"} data-testid="countdown">
        {running ? clockText(run.left) : clockText(frame.exposure_s >= 1 ? frame.exposure_s : frame.timer_s)}
      </Box>
      <Box role="status" fontSize="14px" color="muted" data-testid="phase">
        {phase === "ready"
          ? waitsWords(frame)
          : phase === "timer"
            ? "self-timer"
            : phase === "open"
              ? `shutter open, ${clockText(Math.floor(run.gone))} gone`
              : "dark frame; leave it"}
        {noted ? ` · ${noted}` : ""}
      </Box>
      <Box h="8px" borderWidth="1px" borderColor="line" mt="8px">
        <Box h="100%" bg="rust" w={`${running && run.length > 0 ? Math.min(100, (run.gone / run.length) * 100) : 0}%`} />
      </Box>
    </Box>
  );
}

interface ActsProps {
  run: Run;
  left: boolean;
  onStop: () => void;
  onRepeat: () => void;
  onFault: () => void;
}

function Acts({ run, left, onStop, onRepeat, onFault }: ActsProps) {
  const { phase, running, progress } = run;
  return (
    <>
      {running ? (
        phase === "open" ? (
          <HoldButton variant="solid" size="xl" bg="rust" color="onRust" onHeld={onStop} mb="10px" w="100%">
            Hold to stop and note
          </HoldButton>
        ) : (
          <Button variant="solid" size="xl" bg="rust" color="onRust" onClick={onStop} mb="10px" w="100%">
            {phase === "timer" ? "Cancel" : "Do not wait"}
          </Button>
        )
      ) : (
        <Button variant="solid" size="xl" onClick={run.start} mb="10px" w="100%" autoFocus>
          Start
        </Button>
      )}
      <Flex gap="10px" direction={left ? "row-reverse" : "row"}>
        <Button size="lg" h="52px" flex="1" onClick={onRepeat} disabled={running || progress.index === 0}>
          Repeat
        </Button>
        <Button size="lg" h="52px" flex="1" onClick={onFault}>
          Fault
        </Button>
        <Button size="lg" h="52px" flex="1" onClick={run.skip} disabled={running}>
          Skip
        </Button>
      </Flex>
    </>
  );
}

const Small = chakra(Link, {
  base: { minH: "48px", display: "inline-flex", alignItems: "center", textDecoration: "underline", px: "6px" },
});

/** A sequence step by step: what to set, the countdown, and what happened. */
export function CarryOut({ sequence: planned }: { sequence: SequenceOut }) {
  const [clock] = useState(() => makeClock(recall(planned.id).since));
  const sequence = useMemo(() => withInstead(planned, recall(planned.id).instead), [planned]);
  const { plan } = sequence;
  const run = useCarryOut(sequence, clock);
  const [faulting, setFaulting] = useState(false);
  const [noted, setNoted] = useState({ at: -1, text: "" });
  const [sound, hearSound] = useState(soundOn);
  const hands = useHands();
  const camera = useCamera(sequence, run);
  const go = useNavigate();
  const { phase, frame, progress, running } = run;
  useAwake(phase !== "before" && phase !== "finished");
  useNextKey(faulting || running || phase === "finished" ? undefined : phase === "before" ? run.begin : run.start);

  const done = new Set(progress.frames.filter((one) => one.status === "done").map((one) => one.number));
  const finish = () => {
    run.forget();
    void renew("takes");
    void go(`/logbook/${progress.takeId}`);
  };
  const handedOver = () => {
    run.forget();
    void go("/board");
  };

  return (
    <Flex
      as="main"
      direction="column"
      minH="100dvh"
      maxW="480px"
      mx="auto"
      px="16px"
      pt="4px"
      pb="8px"
      position="relative"
      data-testid="field"
      data-kept={run.kept}
      data-take={progress.takeId}
    >
      {run.flashes > 0 ? (
        <Box
          key={run.flashes}
          position="fixed"
          inset="0"
          bg="rust"
          opacity="0"
          pointerEvents="none"
          zIndex="10"
          css={{ animation: "flash 0.6s ease-out" }}
          aria-hidden="true"
        />
      ) : null}
      {hands.dim > 0 ? (
        <Box
          position="fixed"
          inset="0"
          bg="black"
          opacity={DIMMED[hands.dim]}
          pointerEvents="none"
          zIndex="9999"
          aria-hidden="true"
        />
      ) : null}
      <Flex justify="space-between" align="center" fontSize="13px" color="muted" gap="3">
        {running ? (
          <Flex minH="48px" align="center" px="6px">
            {plan.composition_name}
          </Flex>
        ) : (
          <Small to={`/compositions/${sequence.composition_id}`}>{plan.composition_name}</Small>
        )}
        <Box textAlign="right">{clock.rate !== 1 ? `time runs ×${clock.rate}` : plan.next_event_text}</Box>
      </Flex>
      <SequenceStrip
        frames={plan.sequence.frames}
        current={frame?.number}
        done={done}
        tall="48px"
        {...(running ? {} : { onPick: run.goTo })}
      />
      {progress.instead ? (
        <Box role="status" borderLeftWidth="3px" borderColor="slate" pl="10px" mt="2" fontSize="14px">
          On the spot: {progress.instead.words}
        </Box>
      ) : null}
      {phase === "before" ? (
        <Before
          sequence={sequence}
          arrivedAt={run.progress.arrivedAt}
          onArrive={run.arrive}
          onNotThere={run.notThere}
          onBegin={run.begin}
        />
      ) : phase === "finished" || !frame ? (
        <FinishTake
          sequence={sequence}
          progress={progress}
          clock={clock}
          coming={
            camera.coming.length > 0 && !camera.trouble
              ? `Frame ${camera.coming.map((one) => one.number).join(", ")} is on its way from the camera.`
              : undefined
          }
          onAgain={run.repeat}
          onDone={finish}
          onHandedOver={handedOver}
        />
      ) : (
        <>
          <Box fontFamily="mono" fontSize="12.5px" color="muted" mt="12px">
            frame {frame.number} of {plan.sequence.frames.length}, {frame.caption}
          </Box>
          <chakra.h1 fontSize="27px" fontWeight="700" lineHeight="1.2" mb="8px">
            {frame.title}
          </chakra.h1>
          <Settings frame={frame} />
          <Countdown run={run} frame={frame} noted={noted.at === progress.index ? noted.text : ""} />
          {frame.actions.length > 0 && phase === "ready" ? (
            <Box borderLeftWidth="3px" borderColor="slate" pl="10px" fontSize="14px" mb="8px">
              {frame.actions.map((action) => (
                <Box key={action}>{action}</Box>
              ))}
            </Box>
          ) : null}
          {frame.filters !== "none" && phase !== "ready" ? (
            <Box borderLeftWidth="3px" borderColor="rust" pl="10px" fontSize="14px" mb="8px">
              Still on: {frame.filters}. It is in the ledger.
            </Box>
          ) : null}
          <Box flex="1" />
          <CameraPanel camera={camera} count={plan.sequence.frames.length} running={running} />
          <Acts
            run={run}
            left={hands.left}
            onStop={() => {
              if (phase === "open") camera.stop();
              run.stop();
            }}
            onRepeat={() => {
              camera.pause();
              run.repeat();
            }}
            onFault={() => setFaulting(true)}
          />
        </>
      )}
      {/* While the shutter is open nothing leads away: the countdown is heard on this page alone. */}
      <Flex
        gap="2"
        justify="space-between"
        fontSize="14px"
        direction={hands.left ? "row-reverse" : "row"}
        mt="4px"
        visibility={running ? "hidden" : "visible"}
      >
        <Small to={`/field/${sequence.id}/spot`}>The light is different</Small>
        <Small to={`/field/${sequence.id}/soft`}>Soft: why?</Small>
        <Small to={`/measure?sequence=${sequence.id}`}>Measure</Small>
      </Flex>
      <Flex gap="1" justify="space-between" align="center" fontSize="13px" color="muted" wrap="wrap">
        <Button
          h="48px"
          px="8px"
          onClick={() => {
            setSound(!sound);
            hearSound(!sound);
          }}
          aria-pressed={sound}
        >
          Sound {sound ? "on" : "off"}
        </Button>
        <Button h="48px" px="8px" onClick={hands.turnHand}>
          {hands.left ? "Left hand" : "Right hand"}
        </Button>
        <Button h="48px" px="8px" onClick={hands.dimmer} aria-label={`Dim ${hands.dim} of ${DIMMED.length - 1}`}>
          Dim {hands.dim}
        </Button>
        <ThemeButton tall />
      </Flex>
      <FaultSheet
        open={faulting}
        onClose={() => setFaulting(false)}
        onChoose={(fault, note) => {
          run.fault(fault, note);
          setFaulting(false);
          setNoted({ at: progress.index, text: fault ? `noted: ${fault}` : "noted" });
        }}
      />
    </Flex>
  );
}
