import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { queryClient, sequenceQuery } from "../api/queries";
import type { Fault, SequenceOut } from "../api/types";
import { SequenceStrip } from "../instruments/SequenceStrip";
import { TextField } from "../shell/fields";
import { Sheet } from "../shell/Sheet";
import { Loading, Trouble } from "../shell/states";
import { ThemeButton } from "../theme/ThemeChoice";
import { makeClock } from "./clock";
import { FAULTS } from "./faults";
import { FinishTake } from "./FinishTake";
import { keepAwake, setSound, soundOn } from "./signals";
import { useCarryOut } from "./useCarryOut";
import { keep, mine, readKept } from "../shell/kept";

const cacheKey = (id: string) => mine(`lucid-ridge/sequence/${id}`);

/** A sequence kept in this browser, for when the network is gone. */
function kept(id: string): SequenceOut | undefined {
  try {
    return (JSON.parse(readKept(cacheKey(id)) ?? "null") as SequenceOut | null) ?? undefined;
  } catch {
    return undefined;
  }
}

export default function FieldPage() {
  const { id = "" } = useParams();
  const query = useQuery(sequenceQuery(id));
  const sequence = query.data ?? kept(id);
  useEffect(() => {
    if (query.data) keep(cacheKey(id), JSON.stringify(query.data));
  }, [id, query.data]);
  if (sequence) return <CarryOut key={id} sequence={sequence} />;
  if (query.isError) return <Trouble error={query.error} again={() => void query.refetch()} />;
  return <Loading what="the sequence" />;
}

function clockText(seconds: number) {
  const whole = Math.ceil(seconds - 1e-6);
  return whole >= 3600
    ? `${Math.floor(whole / 3600)}:${String(Math.floor((whole % 3600) / 60)).padStart(2, "0")}:${String(whole % 60).padStart(2, "0")}`
    : `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

function Row({ name, value, changed, note }: { name: string; value: string; changed: boolean; note?: string }) {
  return (
    <Flex
      justify="space-between"
      align="center"
      px="14px"
      minH="50px"
      borderTopWidth="1px"
      borderColor="line"
      _first={{ borderTopWidth: 0 }}
      color={changed ? "ink" : "muted"}
      fontWeight={changed ? "700" : "400"}
    >
      <Box fontSize="15px" flexShrink="0" mr="3">
        {name}
        {note ? (
          <Box as="span" fontSize="12px" ml="2">
            {note}
          </Box>
        ) : null}
      </Box>
      <Box fontFamily="mono" fontSize={value.length > 18 ? "16px" : "20px"} textAlign="right" css={{ overflowWrap: "anywhere" }}>
        {value}{" "}
        {changed ? (
          <span role="img" aria-label="changed">
            ◆
          </span>
        ) : null}
      </Box>
    </Flex>
  );
}

function CarryOut({ sequence }: { sequence: SequenceOut }) {
  const [clock] = useState(makeClock);
  const { plan } = sequence;
  const run = useCarryOut(sequence, clock);
  const [faulting, setFaulting] = useState(false);
  const [noted, setNoted] = useState({ at: -1, text: "" });
  const [sound, hearSound] = useState(soundOn);
  const go = useNavigate();
  const { phase, frame, progress } = run;
  const running = phase === "timer" || phase === "open" || phase === "dark";

  useEffect(() => {
    if (phase === "before" || phase === "finished") return undefined;
    let release: () => void = () => undefined;
    void keepAwake().then((free) => (release = free));
    return () => release();
  }, [phase]);

  const done = new Set(progress.frames.filter((one) => one.status === "done").map((one) => one.number));
  const finish = () => {
    run.forget();
    void queryClient.invalidateQueries({ queryKey: ["takes"] });
    void go(`/logbook/${progress.takeId}`);
  };

  return (
    <Flex
      direction="column"
      minH="100dvh"
      maxW="480px"
      mx="auto"
      px="16px"
      pt="12px"
      pb="14px"
      position="relative"
      data-testid="field"
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
      <Flex justify="space-between" align="center" fontSize="13px" color="muted" mb="8px" gap="3">
        <Link to={`/compositions/${sequence.composition_id}`}>{plan.composition_name}</Link>
        <Box textAlign="right">{clock.rate !== 1 ? `time runs ×${clock.rate}` : plan.next_event_text}</Box>
      </Flex>
      <SequenceStrip
        frames={plan.sequence.frames}
        current={frame?.number}
        done={done}
        tall="28px"
        {...(running ? {} : { onPick: run.goTo })}
      />
      {phase === "before" ? (
        <Before plan={plan} onBegin={run.begin} />
      ) : phase === "finished" || !frame ? (
        <FinishTake sequence={sequence} progress={progress} clock={clock} onAgain={run.repeat} onDone={finish} />
      ) : (
        <>
          <Box fontFamily="mono" fontSize="12.5px" color="muted" mt="16px">
            frame {frame.number} of {plan.sequence.frames.length}, {frame.caption}
          </Box>
          <chakra.h1 fontSize="27px" fontWeight="700" lineHeight="1.2" mb="10px">
            {frame.title}
          </chakra.h1>
          <Box borderWidth="1px" borderColor="line" bg="panel">
            {frame.aim ? <Row name="Aim" value={frame.aim} changed={frame.changed.includes("aim")} /> : null}
            <Row name="Focus" value={frame.focus.text} changed={frame.changed.includes("focus")} />
            <Row name="In front" value={frame.filters} changed={frame.changed.includes("filters")} />
            <Row
              name="Aperture, ISO"
              value={`${frame.aperture.text} · ${frame.iso.text}`}
              changed={frame.changed.includes("aperture")}
            />
            <Row name={frame.bulb ? "Bulb" : "Shutter"} value={frame.shutter.text} changed={frame.changed.includes("shutter")} />
          </Box>
          <Box textAlign="center" my="12px" aria-live="off" minH="118px">
            <Box fontFamily="mono" fontSize="76px" lineHeight="1.1" color={running ? "rust" : "muted"} data-testid="countdown">
              {running ? clockText(run.left) : clockText(frame.exposure_s >= 1 ? frame.exposure_s : frame.timer_s)}
            </Box>
            <Box role="status" fontSize="14px" color="muted" data-testid="phase">
              {phase === "ready"
                ? frame.goes_on
                  ? "the body takes this one by itself after the one before"
                  : frame.timer_s > 0
                    ? `self-timer ${frame.timer_s} s, then ${frame.shutter.text}`
                    : `shutter ${frame.shutter.text}`
                : phase === "timer"
                  ? "self-timer"
                  : phase === "open"
                    ? `shutter open, ${clockText(Math.floor(run.gone))} gone`
                    : "dark frame; leave it"}
              {noted.at === progress.index ? ` · ${noted.text}` : ""}
            </Box>
            <Box h="8px" borderWidth="1px" borderColor="line" mt="8px">
              <Box h="100%" bg="rust" w={`${running && run.length > 0 ? Math.min(100, (run.gone / run.length) * 100) : 0}%`} />
            </Box>
          </Box>
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
          {running ? (
            <Button variant="solid" size="xl" bg="rust" color="onRust" onClick={run.stop} mb="10px">
              {phase === "timer" ? "Cancel" : phase === "open" ? "Stop and note" : "Do not wait"}
            </Button>
          ) : (
            <Button variant="solid" size="xl" onClick={run.start} mb="10px" autoFocus>
              Start
            </Button>
          )}
          <Flex gap="10px">
            <Button size="lg" flex="1" onClick={run.repeat} disabled={running || progress.index === 0}>
              Repeat
            </Button>
            <Button size="lg" flex="1" onClick={() => setFaulting(true)}>
              Fault
            </Button>
            <Button size="lg" flex="1" onClick={run.skip} disabled={running}>
              Skip
            </Button>
          </Flex>
        </>
      )}
      <Flex mt="12px" gap="2" justify="space-between" align="center" fontSize="13px" color="muted">
        <Button
          onClick={() => {
            setSound(!sound);
            hearSound(!sound);
          }}
          aria-pressed={sound}
        >
          Sound {sound ? "on" : "off"}
        </Button>
        <ThemeButton />
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

function Before({ plan, onBegin }: { plan: SequenceOut["plan"]; onBegin: () => void }) {
  const { sequence } = plan;
  return (
    <Flex direction="column" flex="1" mt="18px">
      <chakra.h1 fontSize="27px" fontWeight="700" lineHeight="1.2">
        {plan.composition_name}
      </chakra.h1>
      <Box color="muted" mb="3">
        {plan.place_name}, {plan.moment_text}
      </Box>
      <Box borderWidth="1px" borderColor="line" bg="panel" mb="4">
        <Row
          name="Frames"
          value={[
            ...(sequence.panel_count > 1 ? [`${sequence.panel_count} panels`] : []),
            sequence.slice_count,
            sequence.bracket_count,
          ].join(" × ")}
          changed={false}
        />
        <Row name="Takes" value={sequence.total.text} changed={false} />
        <Row name="Light" value={plan.light_text} changed={false} />
        {plan.reading_text ? <Row name="Reading" value={plan.reading_text} changed={false} /> : null}
        <Row name="Light changes" value={sequence.drift.text} changed={false} />
      </Box>
      {plan.cautions.map((caution) => (
        <Box key={caution} borderLeftWidth="4px" borderColor="rust" pl="10px" mb="2" fontSize="15px">
          {caution}
        </Box>
      ))}
      <Box flex="1" />
      <Button variant="solid" size="xl" onClick={onBegin} mt="4">
        Begin
      </Button>
    </Flex>
  );
}

function FaultSheet({
  open,
  onClose,
  onChoose,
}: {
  open: boolean;
  onClose: () => void;
  onChoose: (fault: Fault | null, note: string) => void;
}) {
  const [note, setNote] = useState("");
  return (
    <Sheet
      title="What went wrong?"
      open={open}
      onClose={onClose}
      footer={
        <Button size="lg" onClick={() => onChoose(null, note)}>
          Only the note
        </Button>
      }
    >
      <TextField label="note" value={note} onCommit={setNote} />
      <Box display="grid" gridTemplateColumns="1fr 1fr" gap="2" mt="3">
        {FAULTS.map((fault) => (
          <Button key={fault} h="48px" whiteSpace="normal" onClick={() => onChoose(fault, note)}>
            {fault}
          </Button>
        ))}
      </Box>
    </Sheet>
  );
}
