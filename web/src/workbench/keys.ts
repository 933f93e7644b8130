import type { Shortcut } from "../shell/ShortcutsSheet";

/** The workbench's keys, as shown behind "?". */
export const WORKBENCH_KEYS: readonly (readonly [string, readonly Shortcut[]])[] = [
  [
    "Settings, a third of a stop each",
    [
      [["Q", "W"], "focal length shorter, longer"],
      [["A", "S"], "aperture wider, narrower"],
      [["C", "V"], "shutter shorter, longer"],
      [["Z", "X"], "ISO lower, higher"],
      [["E", "R"], "focus nearer, farther"],
      [["F"], "filters in front of the lens"],
      [["Shift", "key"], "lock or free that setting"],
    ],
  ],
  [
    "Camera",
    [
      [["J", "L"], "step to the left, right, 10 cm; a metre with Shift"],
      [["I", "K"], "step ahead, back"],
      [["T", "B"], "raise, lower the camera 5 cm"],
      [["U", "O"], "aim to the left, right, 1°; 10° with Shift"],
      [["Y", "H"], "pitch up, down"],
      [["N"], "other guides"],
      [["G"], "put something into the view"],
      [["P"], "view, plan or section in the large place"],
      [["D"], "how it will look, and back; with Shift the frames one by one"],
    ],
  ],
  [
    "Moment",
    [
      [[",", "."], "five minutes earlier, later"],
      [["<", ">"], "an hour earlier, later"],
      [["[", "]"], "to the event before, after"],
      [["←", "→"], "a minute, on the ribbon; half an hour with Shift"],
    ],
  ],
  [
    "Benches",
    [
      [["1"], "Frame"],
      [["2"], "Light"],
      [["3"], "Depth"],
      [["4"], "Exposure"],
      [["5"], "Ways"],
      [["6"], "Sequence"],
    ],
  ],
  [
    "Everything",
    [
      [["M"], "apply the first mend"],
      [["Ctrl", "Z"], "undo"],
      [["Ctrl", "Y"], "redo"],
      [["Ctrl", "S"], "save now (it saves by itself)"],
      [["?"], "these keys"],
    ],
  ],
];
