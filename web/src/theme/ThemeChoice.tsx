import { Button } from "@chakra-ui/react";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";

import { THEMES, type Theme } from "./tokens";

const KEY = "lucid-ridge/theme";
const NAMES: Record<Theme, string> = { day: "Day", dusk: "Dusk", night: "Night" };

function remembered(): Theme {
  const kept = window.localStorage.getItem(KEY);
  return THEMES.find((theme) => theme === kept) ?? "day";
}

interface Choice {
  theme: Theme;
  choose: (theme: Theme) => void;
}

const Context = createContext<Choice>({ theme: "day", choose: () => undefined });

export const useTheme = () => useContext(Context);

/** Keeps the theme on the page's root element and in this browser. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const [theme, setTheme] = useState<Theme>(remembered);
  useEffect(() => {
    document.documentElement.dataset["theme"] = theme;
    window.localStorage.setItem(KEY, theme);
  }, [theme]);
  const choose = useCallback((next: Theme) => setTheme(next), []);
  const value = useMemo(() => ({ theme, choose }), [theme, choose]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** One button that goes on to the next of the three lights. */
export function ThemeButton({ short = false }: { short?: boolean }) {
  const { theme, choose } = useTheme();
  const next = THEMES[(THEMES.indexOf(theme) + 1) % THEMES.length] ?? "day";
  return (
    <Button onClick={() => choose(next)} title={`Change the screen to ${NAMES[next]}`}>
      {THEMES.filter((one) => !short || one === theme).map((one) => (
        <span
          key={one}
          style={{
            textDecoration: one === theme ? "underline" : "none",
            textUnderlineOffset: 4,
            fontWeight: one === theme ? 700 : 400,
          }}
        >
          {NAMES[one]}
        </span>
      ))}
    </Button>
  );
}
