/** The palette: every colour by theme. Day for sun on the screen, Dusk dim, Night red on black. */

export const THEMES = ["day", "dusk", "night"] as const;
export type Theme = (typeof THEMES)[number];

type ByTheme = readonly [day: string, dusk: string, night: string];

export const PALETTE: Record<string, ByTheme> = {
  ground: ["#ECE8DD", "#191E1F", "#0B0202"],
  panel: ["#F8F6F0", "#22292A", "#120404"],
  raised: ["#FFFDF8", "#2A3233", "#190605"],
  ink: ["#1B211E", "#CFD4CC", "#DD5D43"],
  muted: ["#5B655F", "#98A39D", "#D1523A"],
  line: ["#CFCABB", "#414B49", "#3D130C"],
  moss: ["#4A6635", "#9DB47C", "#DD5D43"],
  mossFaint: ["#DDE2CF", "#2C3629", "#2A0A06"],
  onMoss: ["#F8F6F0", "#191E1F", "#0B0202"],
  rust: ["#9C3F22", "#D9825C", "#F07052"],
  rustFaint: ["#EBD9CE", "#3A2B24", "#2E0B06"],
  onRust: ["#FFF8F2", "#191E1F", "#0B0202"],
  slate: ["#2D5466", "#84A9B8", "#D1523A"],
  tone0: ["#B9C2BF", "#3B4645", "#2C0C07"],
  tone1: ["#8F9C98", "#323B3B", "#240A06"],
  tone2: ["#66756F", "#283031", "#1B0705"],
  tone3: ["#3A4743", "#1D2324", "#130504"],
  tone4: ["#1F2926", "#121617", "#0C0303"],
  land: ["#F6F3EA", "#5F6B68", "#4A170E"],
  sky: ["#E6E5DC", "#2C3434", "#180605"],
  cloud: ["#F4F1E8", "#343D3C", "#1F0806"],
  lake: ["#CBD2CF", "#2A3333", "#190605"],
  nightfall: ["#5E7886", "#0F1415", "#050101"],
  twilight: ["#9DB0B8", "#1B2527", "#170503"],
  bluehour: ["#C3CDCF", "#28363A", "#260A06"],
  goldlight: ["#EBD9CE", "#5A4334", "#6E2414"],
  sunlit: ["#F4F1E8", "#48534F", "#4A160D"],
  hillshade: ["#B0B9B6", "#303A38", "#2C0C07"],
  edge: ["#1B211E", "#0D1011", "#5A1B10"],
};
