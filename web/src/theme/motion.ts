const KEY = "lucid-ridge/still";

/** Whether moving things are held still whatever the system says; the system's own wish always counts. */
export const heldStill = () => window.localStorage.getItem(KEY) === "yes";

export function holdStill(on: boolean) {
  if (on) window.localStorage.setItem(KEY, "yes");
  else window.localStorage.removeItem(KEY);
  document.documentElement.dataset["still"] = on ? "yes" : "no";
}
