/** What people mean by golden and blue hour. */
export const GOLDEN = [
  ["six_to_minus_four", "golden 6° to −4°, blue −4° to −6°"],
  ["six_to_the_horizon", "golden 6° to sunset, blue −4° to −8°"],
  ["ten_to_minus_two", "golden 10° to −2°, blue −2° to −6°"],
] as const;
