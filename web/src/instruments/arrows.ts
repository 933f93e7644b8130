/** Which way an arrow key leads in a picture: to the right and down. */
export const ARROWS: Partial<Record<string, readonly [right: number, down: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
