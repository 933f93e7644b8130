import { keep, readKept } from "../shell/kept";

const SOUND_KEY = "lucid-ridge/sound";
let audio: AudioContext | undefined;

export const soundOn = () => readKept(SOUND_KEY) !== "off";
export const setSound = (on: boolean) => keep(SOUND_KEY, on ? "on" : "off");

/** Have the sound ready before it is needed: a browser takes a tenth of a second and more to open it. */
export function readySound() {
  if (!soundOn()) return;
  try {
    audio ??= new AudioContext();
    void audio.resume();
  } catch {
    // No sound device: the screen's flash says the same.
  }
}

/** A short tone: high when the shutter opens, low and twice when it closes. Silent where sound is off or refused. */
function tone(what: "open" | "close") {
  if (!soundOn()) return;
  try {
    audio ??= new AudioContext();
    const context = audio;
    const beeps =
      what === "open"
        ? [[880, 0]]
        : [
            [520, 0],
            [520, 0.22],
          ];
    for (const [pitch = 520, at = 0] of beeps) {
      const oscillator = context.createOscillator();
      const gain = context.createGain();
      oscillator.frequency.value = pitch;
      gain.gain.setValueAtTime(0.25, context.currentTime + at);
      gain.gain.exponentialRampToValueAtTime(0.001, context.currentTime + at + 0.18);
      oscillator.connect(gain).connect(context.destination);
      oscillator.start(context.currentTime + at);
      oscillator.stop(context.currentTime + at + 0.2);
    }
  } catch {
    // No sound device: the screen's flash says the same.
  }
}

const PULSES = { open: [60], close: [60, 80, 60] };

/** Say that the shutter opens or closes: by sound and by the device's shaking, where it can. The screen flashes beside it. */
export function signal(what: "open" | "close") {
  if (soundOn()) navigator.vibrate?.(PULSES[what]);
  tone(what);
}

/** Keep the screen on while a sequence runs, where the browser can. */
export async function keepAwake(): Promise<() => void> {
  try {
    const lock = await navigator.wakeLock.request("screen");
    return () => void lock.release();
  } catch {
    return () => undefined;
  }
}
