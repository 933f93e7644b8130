import { createSystem, defaultConfig, defineConfig, defineRecipe } from "@chakra-ui/react";

import { PALETTE } from "./tokens";

const colors = Object.fromEntries(
  Object.entries(PALETTE).map(([name, [day, dusk, night]]) => [name, { value: { base: day, _dusk: dusk, _night: night } }]),
);

const alias = (name: string) => ({ value: `{colors.${name}}` });

/** Buttons: square-cornered, hairline, in words; the solid one acts. */
const button = defineRecipe({
  base: {
    borderRadius: "3px",
    fontWeight: "600",
    letterSpacing: "0",
    _focusVisible: { outline: "2px solid {colors.rust}", outlineOffset: "1px" },
  },
  variants: {
    variant: {
      solid: { bg: "moss", color: "onMoss", _hover: { bg: "moss", filter: "brightness(1.1)" } },
      outline: { borderWidth: "1px", borderColor: "moss", color: "moss", bg: "raised", _hover: { bg: "mossFaint" } },
      plain: { borderWidth: "1px", borderColor: "line", color: "ink", bg: "panel", _hover: { bg: "raised" } },
      ghost: { color: "ink", bg: "transparent", _hover: { bg: "mossFaint" } },
    },
    size: {
      sm: { h: "30px", px: "10px", fontSize: "13px", minW: "0" },
      md: { h: "36px", px: "14px", fontSize: "14px" },
      xl: { h: "72px", px: "20px", fontSize: "22px" },
      lg: { h: "54px", px: "14px", fontSize: "16px" },
    },
  },
  defaultVariants: { variant: "plain", size: "sm" },
});

const config = defineConfig({
  cssVarsPrefix: "lr",
  conditions: { dusk: "[data-theme=dusk] &", night: "[data-theme=night] &" },
  globalCss: {
    "html, body, #root": { height: "100%" },
    body: {
      bg: "ground",
      color: "ink",
      fontFamily: "body",
      fontSize: "14px",
      lineHeight: "1.4",
      fontFeatureSettings: "'tnum'",
    },
    "::selection": { bg: "mossFaint" },
    // The browser's own controls, dark where the theme is.
    "html[data-theme=dusk], html[data-theme=night]": { colorScheme: "dark" },
    // A photograph must not undo what the eyes have gained in the dark.
    "[data-theme=night] img, [data-theme=night] image": {
      filter: "grayscale(1) brightness(0.2) sepia(1) hue-rotate(-40deg) saturate(5)",
    },
    // The relief holds darkness alone; it lies over the map's own ground in every theme.
    ".leaflet-container img.leaflet-image-layer, .leaflet-container img.leaflet-tile": { filter: "none !important" },
    ".leaflet-container": { background: "{colors.sky} !important", font: "inherit !important", color: "inherit" },
    ".leaflet-container .leaflet-bar a": {
      background: "{colors.raised} !important",
      color: "{colors.ink} !important",
      borderColor: "{colors.line} !important",
    },
    ".leaflet-container .leaflet-bar": { borderColor: "{colors.line} !important" },
    ".leaflet-container .leaflet-control-scale-line": {
      background: "{colors.raised} !important",
      color: "{colors.ink} !important",
      borderColor: "{colors.ink} !important",
      textShadow: "none !important",
    },
    ".lr-land": { fill: "{colors.land}", stroke: "{colors.line}" },
    ".lr-stand": { fill: "{colors.ink}", stroke: "{colors.panel}", fillOpacity: 1 },
    ".lr-picked": { fill: "{colors.rust}", stroke: "{colors.panel}", fillOpacity: 1 },
    ".lr-path": { stroke: "{colors.rust}" },
    ".lr-aim": { stroke: "{colors.slate}" },
    ".lr-mark": {
      display: "flex",
      alignItems: "center",
      gap: "4px",
      whiteSpace: "nowrap",
      fontSize: "13px",
      fontWeight: "600",
      color: "{colors.ink}",
      textShadow: "0 0 3px {colors.panel}, 0 0 3px {colors.panel}, 0 0 3px {colors.panel}",
    },
    ".lr-mark svg": { flexShrink: "0" },
    ".lr-counted": {
      display: "flex",
      alignItems: "center",
      justifyContent: "center",
      borderRadius: "50%",
      background: "{colors.mossFaint}",
      border: "2px solid {colors.moss}",
      color: "{colors.ink}",
      fontWeight: "700",
      fontSize: "14px",
      position: "relative",
    },
    ".lr-counted-name": {
      position: "absolute",
      whiteSpace: "nowrap",
      fontSize: "13px",
      fontWeight: "600",
      textShadow: "0 0 3px {colors.panel}, 0 0 3px {colors.panel}, 0 0 3px {colors.panel}",
    },
    ".lr-fig": { fontFamily: "mono" },
    ".lr-told": { cursor: "help", borderBottom: "1px dotted {colors.muted}", textAlign: "inherit", color: "inherit" },
    "*:focus-visible": { outline: "2px solid {colors.rust}", outlineOffset: "1px" },
    "*": { scrollbarColor: "{colors.line} transparent", scrollbarWidth: "thin" },
    "[data-still=yes] *": { animation: "none !important", transition: "none !important" },
    ".lr-toured": { outline: "3px solid {colors.rust} !important", outlineOffset: "2px" },
    "@media (prefers-reduced-motion: reduce)": { "& *": { animation: "none !important", transition: "none !important" } },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Atkinson Hyperlegible Next Variable', sans-serif" },
        heading: { value: "'Atkinson Hyperlegible Next Variable', sans-serif" },
        mono: { value: "'JetBrains Mono Variable', monospace" },
      },
      radii: {
        sm: { value: "2px" },
        md: { value: "3px" },
        lg: { value: "3px" },
        l1: { value: "2px" },
        l2: { value: "3px" },
        l3: { value: "3px" },
      },
    },
    semanticTokens: {
      colors: {
        ...colors,
        bg: {
          DEFAULT: alias("ground"),
          subtle: alias("panel"),
          muted: alias("panel"),
          emphasized: alias("mossFaint"),
          panel: alias("panel"),
        },
        fg: { DEFAULT: alias("ink"), muted: alias("muted"), subtle: alias("muted"), error: alias("rust") },
        border: {
          DEFAULT: alias("line"),
          muted: alias("line"),
          subtle: alias("line"),
          emphasized: alias("muted"),
          error: alias("rust"),
        },
        gray: {
          contrast: alias("panel"),
          fg: alias("ink"),
          subtle: alias("mossFaint"),
          muted: alias("line"),
          emphasized: alias("line"),
          solid: alias("moss"),
          focusRing: alias("rust"),
        },
      },
    },
    // Both end where their element stays without them: nothing hangs on an animation that is off.
    keyframes: {
      flash: { from: { opacity: 0.85 }, to: { opacity: 0 } },
      late: { from: { opacity: 0 }, to: { opacity: 1 } },
    },
    recipes: { button },
  },
});

export const system = createSystem(defaultConfig, config);

/** A palette colour as CSS for SVG. */
export const paint = (name: string) => `var(--lr-colors-${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)})`;
