/** Whether a hand holds something in a drawing: what is not that drawing may then wait a little. */
export const dragState = { busy: false };
