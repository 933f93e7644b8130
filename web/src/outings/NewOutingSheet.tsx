import { Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, ask, problemOf, wordsOf } from "../api/client";
import { placesQuery, renew, tracksQuery } from "../api/queries";
import type { OutingSpot } from "../api/types";
import { TextField } from "../shell/fields";
import { freshId } from "../shell/freshId";
import { Sheet } from "../shell/Sheet";
import { newOuting, spotsOf } from "./outingActs";
import { SpotField, WhenField } from "./timeFields";

const tomorrow = () => new Date(Date.now() + 86_400_000).toLocaleDateString("en-CA");

/** What an outing needs to begin with: a day, its hours, and where it starts. */
export function NewOutingSheet({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const places = useQuery(placesQuery);
  const tracks = useQuery(tracksQuery);
  const spots = spotsOf(places.data ?? [], tracks.data ?? []);
  const [name, setName] = useState("");
  const [date, setDate] = useState(tomorrow);
  const [leave, setLeave] = useState("05:00:00");
  const [back, setBack] = useState("12:00:00");
  const [chosen, setChosen] = useState<OutingSpot | null>(null);
  const [trouble, setTrouble] = useState("");
  const [busy, setBusy] = useState(false);
  const start = chosen ?? spots[0] ?? null;
  const make = async () => {
    if (!start) return;
    setBusy(true);
    try {
      const day = { date, leave_from: leave, back_by: back, start: null, end: null };
      const body = { id: freshId(), name: name.trim() || `${start.name}, ${date}`, outing: newOuting(day, start) };
      const made = await ask(api.POST("/api/outings", { body }));
      await renew("outings");
      void go(`/outings/${made.id}`);
    } catch (error) {
      setTrouble(wordsOf(problemOf(error)));
      setBusy(false);
    }
  };
  return (
    <Sheet
      title="New outing"
      open
      onClose={onClose}
      footer={
        <Button variant="solid" size="md" loading={busy} disabled={!start} onClick={() => void make()}>
          Make it
        </Button>
      }
    >
      <Flex direction="column" gap="3">
        <TextField label="Name" value={name} placeholder="Dawn at the tarn" onCommit={setName} />
        <Flex gap="3" wrap="wrap">
          <WhenField label="Day" type="date" value={date} onCommit={setDate} />
          <WhenField label="Not out before" type="time" value={leave} onCommit={setLeave} />
          <WhenField label="Back by" type="time" value={back} onCommit={setBack} />
        </Flex>
        {places.data && spots.length === 0 ? (
          <p>There is no place to start from yet. Add a place first, or put a car park on the map.</p>
        ) : (
          <SpotField label="Starts at" value={start} spots={spots} onCommit={setChosen} />
        )}
        {trouble ? <p role="alert">{trouble}</p> : null}
      </Flex>
    </Sheet>
  );
}
