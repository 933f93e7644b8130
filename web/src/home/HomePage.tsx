import { Box, Button, Flex, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { compositionsQuery } from "../api/queries";
import type { CompositionBrief } from "../api/types";
import { ChoiceField, Segments } from "../shell/fields";
import { Empty, Loading, Trouble } from "../shell/states";
import { Word } from "../words/Word";
import { Page } from "../shell/TopBar";
import { goToStep } from "../tour/tourState";
import { CompositionTile } from "./CompositionTile";
import { useFillOutlooks } from "./outlooks";
import { NextOuting } from "./NextOuting";
import { RecentTakes } from "./RecentTakes";
import { useGrowing } from "./useGrowing";
import { useValley, WaysIn } from "./WaysIn";
import { keep, readKept } from "../shell/kept";

const ORDERS = [
  ["light", "next light"],
  ["worked", "last worked on"],
  ["name", "name"],
] as const;
type Order = (typeof ORDERS)[number][0];
const KEPT = "lucid-ridge/home-shape";
type Shape = "tiles" | "list";

const FAR = "9999";
/** What an order goes by; what is not known comes last. */
function key(one: CompositionBrief, order: Order): string {
  if (order === "name") return one.name.toLowerCase();
  return one.light_at ?? FAR;
}

function ordered(all: CompositionBrief[], order: Order) {
  if (order === "worked") return [...all].sort((a, b) => b.updated_at.localeCompare(a.updated_at));
  return [...all].sort((a, b) => key(a, order).localeCompare(key(b, order)) || a.name.localeCompare(b.name));
}

function fits(one: CompositionBrief, words: string[], place: string, season: string) {
  const text = `${one.name} ${one.place_name} ${one.subject} ${one.lens_name}`.toLowerCase();
  return (!place || one.place_id === place) && (!season || one.season === season) && words.every((word) => text.includes(word));
}

/** What is next: compositions as they look, with their next light, and what was taken last. */
export default function HomePage() {
  const compositions = useQuery(compositionsQuery);
  const valley = useValley();
  const [params, setParams] = useSearchParams();
  const [shape, setShape] = useState<Shape>(() => (readKept(KEPT) === "list" ? "list" : "tiles"));
  const search = useRef<HTMLInputElement>(null);
  useFillOutlooks(compositions.data);
  const all = compositions.data;
  const put = (name: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: true },
    );
  const order = ORDERS.find(([name]) => name === params.get("by"))?.[0] ?? "light";
  const [find, place, season] = ["find", "place", "season"].map((name) => params.get(name) ?? "") as [string, string, string];
  const places = useMemo(() => [...new Map((all ?? []).map((one) => [one.place_id, one.place_name])).entries()], [all]);
  const seasons = useMemo(() => [...new Set((all ?? []).map((one) => one.season))], [all]);
  const shown = useMemo(() => {
    const words = find.toLowerCase().split(/\s+/).filter(Boolean);
    return ordered(
      (all ?? []).filter((one) => fits(one, words, place, season)),
      order,
    );
  }, [all, find, place, season, order]);
  const { many, end } = useGrowing(shown.length);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const at = event.target as HTMLElement;
      if (event.key !== "/" || at.closest("input, textarea, select")) return;
      event.preventDefault();
      search.current?.focus();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  const choose = (next: Shape) => {
    setShape(next);
    keep(KEPT, next);
  };
  if (compositions.isError && !all)
    return (
      <Page title="Home">
        <Trouble error={compositions.error} again={() => void compositions.refetch()} />
      </Page>
    );
  if (!all)
    return (
      <Page title="Home">
        <Loading what="your compositions" />
      </Page>
    );
  if (all.length === 0)
    return (
      <Page title="Your first picture" intro="Four ways in. Each ends on the workbench, with a picture and the light it needs.">
        <WaysIn />
        <Button mt="5" variant="ghost" textDecoration="underline" onClick={() => goToStep(0)}>
          Show me around
        </Button>
      </Page>
    );
  return (
    <Page
      title="Home"
      actions={
        <Flex gap="2" wrap="wrap">
          {valley.offered && valley.loaded ? (
            <Button loading={valley.busy} onClick={valley.remove}>
              Take the demo valley away
            </Button>
          ) : null}
          <Button variant="ghost" size="md" onClick={() => goToStep(0)}>
            Show me around
          </Button>
          <Button asChild variant="outline" size="md">
            <Link to="/begin/photograph">From a photograph</Link>
          </Button>
          <Button asChild variant="solid" size="md">
            <Link to="/begin">New composition</Link>
          </Button>
        </Flex>
      }
    >
      <NextOuting />
      <Flex gap="3" mb="4" align="end" wrap="wrap">
        <Input
          ref={search}
          type="search"
          aria-label="Search compositions"
          placeholder="Search   /"
          value={find}
          onChange={(event) => put("find", event.target.value)}
          w={{ base: "100%", sm: "220px" }}
          h="32px"
          bg="raised"
          borderColor="line"
          borderRadius="2px"
        />
        <ChoiceField
          quiet
          label="place"
          width="170px"
          value={place}
          options={[["", "every place"], ...places]}
          onCommit={(v) => put("place", v)}
        />
        <ChoiceField
          quiet
          label="season"
          width="140px"
          value={season}
          options={[["", "every season"], ...seasons.map((one) => [one, one] as const)]}
          onCommit={(v) => put("season", v)}
        />
        <ChoiceField
          quiet
          label="order"
          width="150px"
          value={order}
          options={ORDERS}
          onCommit={(v) => put("by", v === "light" ? "" : v)}
        />
        <Segments
          label="Shape of the list"
          value={shape}
          options={[
            ["tiles", "tiles"],
            ["list", "list"],
          ]}
          onCommit={choose}
        />
        <Box role="status" color="muted" pb="6px">
          {shown.length === all.length ? `${all.length}` : `${shown.length} of ${all.length}`}{" "}
          <Word of="composition">{all.length === 1 ? "composition" : "compositions"}</Word>
        </Box>
      </Flex>
      {shown.length === 0 ? (
        <Empty title="None fits" action={<Button onClick={() => setParams({}, { replace: true })}>Show all</Button>}>
          There are compositions, but none with these words, place and season together.
        </Empty>
      ) : (
        <Box
          display="grid"
          gridTemplateColumns={
            shape === "tiles"
              ? { base: "repeat(auto-fill, minmax(160px, 1fr))", md: "repeat(auto-fill, minmax(230px, 1fr))" }
              : { base: "minmax(0, 1fr)", lg: "repeat(2, minmax(0, 1fr))" }
          }
          gap={shape === "tiles" ? "12px" : "6px 12px"}
        >
          {shown.slice(0, many).map((one) => (
            <CompositionTile key={one.id} one={one} tile={shape === "tiles"} />
          ))}
        </Box>
      )}
      <Box ref={end} h="1px" />
      <RecentTakes />
    </Page>
  );
}
