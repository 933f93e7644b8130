import { Box, Button, Flex, Grid, Link as Anchor } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { renew, takesQuery } from "../api/queries";
import type { TakesOut } from "../api/types";
import { sendWaiting } from "../board/outbox";
import { useBoard } from "../board/useBoard";
import { ChoiceField, TextField } from "../shell/fields";
import { Empty, Loading, Trouble } from "../shell/states";
import { Tabs } from "../shell/Tabs";
import { Page } from "../shell/TopBar";
import { CalendarView } from "./CalendarView";
import { SEASONS, useFilters } from "./filters";
import { TakeCard, TakeLine } from "./TakeLine";
import { TakesMap } from "./TakesMap";
import { WhatWorks } from "./WhatWorks";
import { YourOwn } from "./YourOwn";

const VIEWS = [
  ["list", "List"],
  ["pictures", "Pictures"],
  ["calendar", "Calendar"],
  ["map", "Map"],
  ["works", "What works"],
  ["own", "Your own"],
] as const;
type View = (typeof VIEWS)[number][0];
const isView = (name: string): name is View => VIEWS.some(([one]) => one === name);

type Filters = ReturnType<typeof useFilters>;

/** What takes are chosen by; for the list and the pictures all of it, for what works the place alone. */
function FilterRow({ data, filters, all }: { data: TakesOut; filters: Filters; all: boolean }) {
  const { filter, set } = filters;
  return (
    <Flex gap="3" mb="4" align="end" wrap="wrap">
      <ChoiceField
        width="200px"
        label="place"
        value={filter.place_id ?? ""}
        options={[["", "every place"], ...data.places.map((one) => [one.id, `${one.name} (${one.takes})`] as const)]}
        onCommit={(v) => set({ place_id: v })}
      />
      {all && (
        <>
          <ChoiceField
            width="200px"
            label="fault"
            value={filter.fault ?? ""}
            options={[
              ["", "with and without faults"],
              ...data.faults.map((one) => [one.fault, `${one.fault} (${one.takes})`] as const),
            ]}
            onCommit={(v) => set({ fault: v })}
          />
          <ChoiceField
            width="120px"
            label="season"
            value={filter.season ?? ""}
            options={[["", "all year"], ...SEASONS.map((one) => [one, one] as const)]}
            onCommit={(v) => set({ season: v })}
          />
          <ChoiceField
            width="120px"
            label="rated"
            value={filter.rating ?? ""}
            options={[["", "any"], ...["5", "4", "3", "2", "1"].map((one) => [one, one === "5" ? "5" : `${one} and up`] as const)]}
            onCommit={(v) => set({ rating: v })}
          />
          <TextField
            width="180px"
            label="words"
            value={filter.words ?? ""}
            placeholder="note, place, fault"
            onCommit={(v) => set({ words: v.trim().slice(0, 200) })}
          />
          {filter.day && (
            <Button onClick={() => set({ day: "" })} aria-label={`Not just ${filter.day}`}>
              {filter.day} ×
            </Button>
          )}
          <Box pb="6px" color="muted" role="status">
            {data.at_least ? "at least " : ""}
            {data.total} {data.total === 1 ? "take" : "takes"}
          </Box>
        </>
      )}
    </Flex>
  );
}

function Files({ filters }: { filters: Filters }) {
  const at = (form: string) => `/api/takes/file?${new URLSearchParams({ ...filters.filter, form }).toString()}`;
  return (
    <Flex gap="4" fontSize="13px" mt="4" color="muted">
      These takes as a file:
      <Anchor href={at("csv")} download color="ink" textDecoration="underline">
        table (CSV)
      </Anchor>
      <Anchor href={at("json")} download color="ink" textDecoration="underline">
        JSON
      </Anchor>
    </Flex>
  );
}

function Takes({ filters, view }: { filters: Filters; view: "list" | "pictures" }) {
  const [pages, setPages] = useState<string[]>([]);
  const after = pages.at(-1);
  const takes = useQuery(takesQuery({ ...filters.filter, ...(after ? { after } : {}) }));
  if (takes.isError && !takes.data) return <Trouble error={takes.error} again={() => void takes.refetch()} />;
  if (!takes.data) return <Loading what="the logbook" />;
  const data = takes.data;
  const filtered = Object.keys(filters.filter).length > 0;
  return (
    <>
      <FilterRow data={data} filters={filters} all />
      {view === "list" ? (
        data.takes.map((take) => <TakeLine key={take.id} take={take} />)
      ) : (
        <Grid templateColumns="repeat(auto-fill, minmax(210px, 1fr))" gap="3">
          {data.takes.map((take) => (
            <TakeCard key={take.id} take={take} />
          ))}
        </Grid>
      )}
      {data.total === 0 ? (
        filtered ? (
          <Empty title="No take fits" action={<Button onClick={filters.clear}>Show all</Button>}>
            There are takes, but none that fits all of this together.
          </Empty>
        ) : (
          <Empty title="No takes yet">
            Make a sequence on a workbench and take it to the field; when it is carried out it is written here.
          </Empty>
        )
      ) : (
        <Files filters={filters} />
      )}
      {after || data.next ? (
        <Flex gap="3" mt="3">
          <Button disabled={!after} onClick={() => setPages(pages.slice(0, -1))}>
            Newer
          </Button>
          <Button disabled={!data.next} onClick={() => data.next && setPages([...pages, data.next])}>
            Older
          </Button>
        </Flex>
      ) : null}
    </>
  );
}

function Works({ filters }: { filters: Filters }) {
  const takes = useQuery(takesQuery({}));
  return (
    <>
      {takes.data && <FilterRow data={takes.data} filters={filters} all={false} />}
      <WhatWorks place={filters.filter.place_id} />
    </>
  );
}

/** Sequences as they were carried out: as a list, as pictures, by days, on the map, and what they add up to. */
export default function LogbookPage() {
  const filters = useFilters();
  const view: View = isView(filters.view) ? filters.view : "list";
  const waiting = useBoard()?.waiting.filter((one) => one.kind === "take" && one.state !== "sent").length ?? 0;
  const send = () => void sendWaiting().then(() => renew("takes"));
  return (
    <Page word="take" title="Logbook" intro="What was carried out, how it went, and what it was meant to be.">
      {waiting > 0 ? (
        <Flex role="status" bg="rustFaint" p="3" mb="4" gap="3" align="center">
          <Box flex="1">
            {waiting} {waiting === 1 ? "take waits" : "takes wait"} on this device for a connection.
          </Box>
          <Button onClick={send}>Send now</Button>
        </Flex>
      ) : null}
      <Tabs
        label="The logbook as"
        tabs={VIEWS}
        chosen={view}
        choose={(name) => filters.set({ view: name === "list" ? "" : name })}
        panel="logbook"
      />
      <Box id="logbook" role="tabpanel" aria-labelledby={`tab-${view}`} pt="2">
        {view === "list" || view === "pictures" ? (
          <Takes key={JSON.stringify(filters.filter)} filters={filters} view={view} />
        ) : view === "calendar" ? (
          <CalendarView
            year={filters.year}
            onYear={(year) => filters.set({ year })}
            onDay={(day) => filters.set({ day, view: "pictures" })}
          />
        ) : view === "map" ? (
          <TakesMap choose={(place) => filters.set({ place_id: place, view: "pictures" })} />
        ) : view === "works" ? (
          <Works filters={filters} />
        ) : (
          <YourOwn />
        )}
      </Box>
    </Page>
  );
}
