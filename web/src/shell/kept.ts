/**
 * What this browser keeps. Its storage may be full, or shut off: then things are kept beside it for as long as the page is
 * open, and whoever asked to be told is.
 */
const beside = new Map<string, string>();
const listeners = new Set<() => void>();

let whose: string | null = null;

/** Whose things are kept from now on; null where there are no accounts. */
export function setWhose(id: string | null) {
  whose = id;
}

/** The name under which something of whoever is signed in is kept: two people may share a device. */
export const mine = (key: string) => (whose === null ? key : `${key}@${whose}`);

/** Be told when something can only be kept while the page is open. Returns how to stop. */
export function whenFull(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function readKept(key: string): string | null {
  const held = beside.get(key);
  if (held !== undefined) return held;
  try {
    return window.localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Keep a text; whether it will be there after the page is closed. */
export function keep(key: string, value: string): boolean {
  try {
    window.localStorage.setItem(key, value);
    beside.delete(key);
    return true;
  } catch {
    beside.set(key, value);
    for (const listener of listeners) listener();
    return false;
  }
}

export function forgetKept(key: string) {
  beside.delete(key);
  try {
    window.localStorage.removeItem(key);
  } catch {
    // What is shut off holds nothing.
  }
}
