import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import { DRAFTS, draftTrouble } from "../outings/outingStore";
import { Empty } from "../shell/states";
import { notify } from "../shell/notices";
import { Page } from "../shell/TopBar";
import { useNow } from "../shell/useNow";
import { takeNewer, useInstalled } from "./install";
import { sendAgain, sendWaiting } from "./outbox";
import { type BoardItem, dropFromOutbox, putInOutbox, putOnBoard, safeKeys, takeOffBoard, type Waiting } from "./store";
import { askToKeep } from "./takeAlong";
import { type Board, useBoard } from "./useBoard";
import { agoWords, sizeWords } from "./words";

const Head = chakra("h2", { base: { fontWeight: "700", fontSize: "17px", mt: "6", mb: "2" } });

const WAY: Record<BoardItem["kind"], (of: string) => string> = {
  outing: (of) => `/outings/${of}/way`,
  sequence: (of) => `/field/${of}`,
  home: () => "/",
};

function ItemRow({ item, now }: { item: BoardItem; now: number }) {
  const off = () => {
    void takeOffBoard(item.id);
    notify({ title: `Off board: ${item.name}`, undo: () => void putOnBoard(item) });
  };
  return (
    <Flex py="2" gap="3" align="center" borderTopWidth="1px" borderColor="line" minH="64px" data-testid={`board-${item.name}`}>
      <Box flex="1" minW="0">
        <Link to={WAY[item.kind](item.of)} style={{ fontWeight: 700, textDecoration: "underline" }}>
          {item.name}
        </Link>
        <Box fontSize="13px" color="muted">
          {item.kind === "home" ? "lists" : item.kind} · {agoWords(item.takenAt, now)} · {sizeWords(item.bytes)}
        </Box>
        {item.lacking.map((one) => (
          <Box key={one} fontSize="13px" color="rust">
            Not on board. {one}
          </Box>
        ))}
      </Box>
      {item.kind === "home" ? null : (
        <Button size="lg" onClick={off}>
          Take off
        </Button>
      )}
    </Flex>
  );
}

/** Something refused, as a file: nothing that was recorded need be lost. */
function saveAsFile(one: Waiting) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(one, null, 1)], { type: "application/json" }));
  link.download = `lucid-ridge-${one.kind}-${one.id}.json`;
  link.click();
  URL.revokeObjectURL(link.href);
}

const KIND: Record<Waiting["kind"], string> = { take: "take", spot: "measured", picture: "picture" };
const STATE: Record<Waiting["state"], string> = { waiting: "waits", sent: "sent", refused: "refused" };

function WaitingRow({ one, now }: { one: Waiting; now: number }) {
  const away = () => {
    void dropFromOutbox(one.id);
    notify({ title: `Thrown away: ${one.name}`, undo: () => void putInOutbox(one) });
  };
  return (
    <Box py="2" borderTopWidth="1px" borderColor="line" data-testid={`outbox-${one.state}`}>
      <Flex gap="3" align="center" minH="48px">
        <Box flex="1" minW="0">
          <Box fontWeight="700">{one.name}</Box>
          <Box fontSize="13px" color="muted">
            {KIND[one.kind]} · {agoWords(one.at, now)}
          </Box>
        </Box>
        <Box fontWeight="600" color={one.state === "refused" ? "rust" : "ink"}>
          {STATE[one.state]}
          {one.sentAt ? `, ${agoWords(one.sentAt, now)}` : ""}
        </Box>
      </Flex>
      {one.state === "refused" ? (
        <>
          <Box color="rust" mb="2">
            {one.why}
          </Box>
          <Flex gap="2" wrap="wrap">
            <Button size="lg" onClick={() => void sendAgain(one).then(sendWaiting)}>
              Send again
            </Button>
            <Button size="lg" onClick={() => saveAsFile(one)}>
              Save as a file
            </Button>
            <Button size="lg" onClick={away}>
              Throw away
            </Button>
          </Flex>
        </>
      ) : null}
    </Box>
  );
}

function Room({ board }: { board: Board }) {
  const { pages, newer } = useInstalled();
  const [asked, setAsked] = useState<boolean | null>();
  const promised = asked ?? board.promised;
  return (
    <Box borderLeftWidth="4px" borderColor={pages === "no" ? "rust" : "moss"} bg="panel" px="4" py="3">
      <Box fontWeight="700">
        {pages === "kept"
          ? "The pages are kept on this device: they open without a network."
          : pages === "keeping"
            ? "The pages are just being put on this device …"
            : "The pages are not kept on this device."}
      </Box>
      {pages === "no" ? (
        <Box>
          The browser does not trust this address, or cannot keep pages.{" "}
          <Link to="/trust" style={{ textDecoration: "underline" }}>
            How to trust it
          </Link>
        </Box>
      ) : null}
      <Box fontSize="14px" color="muted">
        {board.used === null
          ? "This browser does not say how much room there is."
          : `${sizeWords(board.used)} in use${board.room ? ` of ${sizeWords(board.room)}` : ""}. `}
        {promised ? "The browser has promised not to clear it." : "The browser may clear it when the device runs out of room."}
      </Box>
      <Flex gap="2" mt="2" wrap="wrap">
        {promised ? null : (
          <Button size="lg" onClick={() => void askToKeep().then((found) => setAsked(found ?? false))}>
            Ask it not to
          </Button>
        )}
        {newer ? (
          <Button size="lg" variant="solid" onClick={takeNewer}>
            Take the newer version on
          </Button>
        ) : null}
      </Flex>
      {asked === false ? (
        <Box fontSize="14px" mt="1">
          It did not promise. Most browsers do once the application is installed on the device.
        </Box>
      ) : null}
    </Box>
  );
}

/** What is on board of this device, and what was recorded outside and waits for the server. */
export default function BoardPage() {
  const board = useBoard();
  const now = useNow(20_000);
  const drafts = safeKeys(DRAFTS);
  const open = board?.waiting.filter((one) => one.state !== "sent") ?? [];
  const sent = board?.waiting.filter((one) => one.state === "sent").reverse() ?? [];
  const things = board?.items.filter((one) => one.kind !== "home") ?? [];
  const name = (id: string) => things.find((one) => one.of === id)?.name ?? "An outing";
  return (
    <Page title="On board" intro="What this device has with it, and what it has to hand in.">
      {board?.trouble ? (
        <Box role="alert" borderLeftWidth="4px" borderColor="rust" pl="3">
          This browser keeps nothing here: its storage is shut off. Allow this site to keep data, or open it in an ordinary window.
        </Box>
      ) : null}
      {board ? <Room board={board} /> : null}
      <Head>Waits to be handed in</Head>
      {open.length === 0 && drafts.length === 0 ? <Box color="muted">Nothing. Everything recorded is with the server.</Box> : null}
      {drafts.map((key) => (
        <Flex key={key} py="2" minH="48px" align="center" borderTopWidth="1px" borderColor="line" data-testid="outbox-draft">
          <Box flex="1">
            <Link to={`/outings/${key.slice(DRAFTS.length)}`} style={{ fontWeight: 700, textDecoration: "underline" }}>
              {name(key.slice(DRAFTS.length))}
            </Link>
            <Box fontSize="13px" color="muted">
              ticks and changes
            </Box>
            <Box color="rust">{draftTrouble.get(key.slice(DRAFTS.length))}</Box>
          </Box>
          <Box fontWeight="600">waits</Box>
        </Flex>
      ))}
      {open.map((one) => (
        <WaitingRow key={one.id} one={one} now={now} />
      ))}
      {open.length > 0 ? (
        <Button size="lg" mt="2" onClick={() => void sendWaiting()}>
          Try to send it now
        </Button>
      ) : null}
      <Head>With this device</Head>
      {board && things.length === 0 ? (
        <Empty title="Nothing is on board">
          Open an outing, or take a composition to the field, and press Take along: plan, sequences, answers for the spot and the
          ground around come onto this device.
        </Empty>
      ) : null}
      {(board?.items ?? []).map((item) => (
        <ItemRow key={item.id} item={item} now={now} />
      ))}
      {sent.length > 0 ? <Head>Handed in</Head> : null}
      {sent.map((one) => (
        <WaitingRow key={one.id} one={one} now={now} />
      ))}
    </Page>
  );
}
