import { Button, chakra } from "@chakra-ui/react";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";

import { THEMES, type Theme } from "./tokens";
import { keep, readKept } from "../shell/kept";

const KEY = "lucid-ridge/theme";
const NAMES: Record<Theme, string> = { day: "Day", dusk: "Dusk", night: "Night" };

/** A theme chosen by hand, or whatever the system wishes: Dusk where it asks for dark. */
export type Wished = Theme | "system";
const DARK = "(prefers-color-scheme: dark)";

function remembered(): Wished {
  const kept = readKept(KEY);
  return kept === "system" ? "system" : (THEMES.find((theme) => theme === kept) ?? "day");
}

interface Choice {
  theme: Theme;
  wished: Wished;
  choose: (theme: Wished) => void;
}

const Context = createContext<Choice>({ theme: "day", wished: "day", choose: () => undefined });

export const useTheme = () => useContext(Context);

/** Keeps the theme on the page's root element and in this browser. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const [wished, setWished] = useState<Wished>(remembered);
  const [dark, setDark] = useState(() => window.matchMedia(DARK).matches);
  useEffect(() => {
    const query = window.matchMedia(DARK);
    const change = () => setDark(query.matches);
    query.addEventListener("change", change);
    return () => query.removeEventListener("change", change);
  }, []);
  const theme: Theme = wished === "system" ? (dark ? "dusk" : "day") : wished;
  useEffect(() => {
    document.documentElement.dataset["theme"] = theme;
    keep(KEY, wished);
  }, [theme, wished]);
  const choose = useCallback((next: Wished) => setWished(next), []);
  const value = useMemo(() => ({ theme, wished, choose }), [theme, wished, choose]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** One button that goes on to the next of the three lights. */
export function ThemeButton({ short = false, tall = false }: { short?: boolean; tall?: boolean }) {
  const { theme, choose } = useTheme();
  const next = THEMES[(THEMES.indexOf(theme) + 1) % THEMES.length] ?? "day";
  return (
    <Button {...(tall ? { h: "48px", px: "8px" } : {})} onClick={() => choose(next)} title={`Change the screen to ${NAMES[next]}`}>
      {THEMES.filter((one) => !short || one === theme).map((one) => (
        <chakra.span
          key={one}
          hideBelow={one === theme ? undefined : "md"}
          style={{
            textDecoration: one === theme ? "underline" : "none",
            textUnderlineOffset: 4,
            fontWeight: one === theme ? 700 : 400,
          }}
        >
          {NAMES[one]}
        </chakra.span>
      ))}
    </Button>
  );
}
