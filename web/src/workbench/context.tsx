import { Box, Popover, Portal, Spinner } from "@chakra-ui/react";
import {
  createContext,
  memo,
  type ReactNode,
  useCallback,
  useContext,
  useDeferredValue,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";

import { api, ask, problemOf } from "../api/client";
import type { Change, Explanation, Readout, Lens } from "../api/types";
import { NOTE } from "../shell/note";
import type { Snapshot, WorkbenchStore } from "./store";

/** Another way to take it, to be seen beside what is. */
export interface Other {
  name: string;
  changes: Change[];
}

interface Bench {
  store: WorkbenchStore;
  state: Snapshot;
  selected: string | undefined;
  select: (id: string | undefined) => void;
  explain: (key: string, anchor: HTMLElement, after?: After) => void;
  /** See the frames as they will look; beside another way to take them. */
  rehearse: (beside?: Other) => void;
}

/** What a number belongs to, where that is not the composition as it is: changes made to it, lenses beside each other. */
interface After {
  changes?: Change[];
  lenses?: Lens[];
}

const Context = createContext<Bench | null>(null);

export function useBench(): Bench {
  const bench = useContext(Context);
  if (!bench) throw new Error("useBench outside the workbench");
  return bench;
}

function Explained({ made }: { made: Explanation }) {
  return (
    <Box fontSize="13px" data-testid="explanation">
      <Box fontWeight="700" fontSize="15px" mb="1">
        {made.title}
      </Box>
      <Box fontFamily="mono" bg="ground" p="2" mb="2" fontSize="12.5px">
        {made.formula}
      </Box>
      <Box as="dl" display="grid" gridTemplateColumns="auto 1fr" columnGap="3" rowGap="1" mb="2">
        {made.inputs.map((input) => (
          <Box key={input.name} display="contents">
            <Box as="dt" color="muted">
              {input.name}
            </Box>
            <Box as="dd" fontFamily="mono">
              {input.text}
            </Box>
          </Box>
        ))}
      </Box>
      <Box fontFamily="mono" fontWeight="700" borderTopWidth="3px" borderStyle="double" borderColor="ink" pt="1" mb="1">
        {made.result}
      </Box>
      <Box color="muted">Source: {made.source}</Box>
      {made.note ? <Box mt="1">{made.note}</Box> : null}
    </Box>
  );
}

/** Gives the benches the store and one place where numbers explain themselves. */
export function BenchProvider({
  store,
  state,
  selected,
  select,
  rehearse,
  children,
}: Omit<Bench, "explain"> & { children: ReactNode }) {
  const anchor = useRef<HTMLElement | null>(null);
  const [open, setOpen] = useState(false);
  const [answer, setAnswer] = useState<Explanation | string | null>(null);
  const explain = useCallback(
    (key: string, element: HTMLElement, { changes = [], lenses = [] }: After = {}) => {
      const scene = store.scene;
      if (!scene) return;
      anchor.current = element;
      setAnswer(null);
      setOpen(true);
      ask(api.POST("/api/explain", { body: { scene, changes, key, lenses } })).then(
        (made) => setAnswer(made),
        (error: unknown) => setAnswer(problemOf(error).detail),
      );
    },
    [store],
  );
  const value = useMemo(
    () => ({ store, state, selected, select, explain, rehearse }),
    [store, state, selected, select, explain, rehearse],
  );
  return (
    <Context.Provider value={value}>
      {children}
      <Popover.Root
        open={open}
        onOpenChange={(e) => setOpen(e.open)}
        positioning={{ getAnchorRect: () => anchor.current?.getBoundingClientRect() ?? null, placement: "bottom-start" }}
        finalFocusEl={() => anchor.current}
      >
        <Portal>
          <Popover.Positioner>
            <Popover.Content {...NOTE} p="4" width="420px" maxW="94vw" aria-label="How this number was got">
              {answer === null ? <Spinner size="sm" /> : typeof answer === "string" ? answer : <Explained made={answer} />}
            </Popover.Content>
          </Popover.Positioner>
        </Portal>
      </Popover.Root>
    </Context.Provider>
  );
}

const Inside = memo(function Inside({ state, children }: { state: Snapshot; children: (state: Snapshot) => ReactNode }) {
  return children(state);
});

/**
 * What is inside follows a moment later, so that the picture follows the hand first. The children must
 * be one and the same function from render to render.
 */
export function Later({ children }: { children: (state: Snapshot) => ReactNode }) {
  const { store, selected, select, explain, rehearse } = useBench();
  const later = useDeferredValue(useSyncExternalStore(store.subscribe, store.unhurried));
  const value = useMemo(
    () => ({ store, state: later, selected, select, explain, rehearse }),
    [store, later, selected, select, explain, rehearse],
  );
  return (
    <Context.Provider value={value}>
      <Inside state={later}>{children}</Inside>
    </Context.Provider>
  );
}

/** A computed number; pressing it shows how it was got. Plain elements: a bench may show a hundred. */
export function Fig({ figure, strong }: { figure: Readout; strong?: boolean }) {
  const { explain } = useBench();
  const style = strong ? STRONG : undefined;
  if (!figure.explain)
    return (
      <span className="lr-fig" style={style}>
        {figure.text}
      </span>
    );
  return (
    <button
      type="button"
      className="lr-fig lr-told"
      style={style}
      onClick={(e) => explain(figure.explain, e.currentTarget)}
      aria-label={`${figure.text}, explain`}
      data-explain={figure.explain}
    >
      {figure.text}
    </button>
  );
}

const STRONG = { fontWeight: 700 } as const;

/** Numbers inside belong to the composition after changes, and explain themselves so. */
export function AfterChanges({ changes, children }: { changes: Change[]; children: ReactNode }) {
  const bench = useBench();
  const value = useMemo(
    () => ({ ...bench, explain: (key: string, anchor: HTMLElement) => bench.explain(key, anchor, { changes }) }),
    [bench, changes],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** Numbers inside are of lenses side by side. */
export function AmongLenses({ lenses, children }: { lenses: Lens[]; children: ReactNode }) {
  const bench = useBench();
  const value = useMemo(
    () => ({ ...bench, explain: (key: string, anchor: HTMLElement) => bench.explain(key, anchor, { lenses }) }),
    [bench, lenses],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
