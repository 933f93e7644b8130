/** How a small sheet beside what it is about looks: a note, a list of filters, an explanation. */
export const NOTE = {
  bg: "raised",
  color: "ink",
  borderWidth: "1px",
  borderColor: "ink",
  borderRadius: "3px",
  boxShadow: "none",
} as const;
