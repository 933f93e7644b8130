/** A moment as a day in plain words. */
export const dayOf = (moment: string) =>
  new Date(moment).toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });

/** A moment as a day and a time, where this device is. */
export const whenOf = (moment: string) =>
  new Date(moment).toLocaleString("en-GB", { day: "numeric", month: "long", hour: "2-digit", minute: "2-digit" });

/** A moment as a time of day by a place's clock. */
export const timeThere = (moment: string, timeZone: string) =>
  new Date(moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit", timeZone });
