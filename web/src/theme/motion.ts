import { forgetKept, keep, readKept } from "../shell/kept";

const KEY = "lucid-ridge/still";

/** Whether moving things are held still whatever the system says; the system's own wish always counts. */
export const heldStill = () => readKept(KEY) === "yes";

export function holdStill(on: boolean) {
  if (on) keep(KEY, "yes");
  else forgetKept(KEY);
  document.documentElement.dataset["still"] = on ? "yes" : "no";
}
