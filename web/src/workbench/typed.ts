/** What a person types on a chip: f/11, 1/125, 2 min 8 s, 70, 0.8 m, inf. */
export function typedValue(text: string): number | null | undefined {
  const plain = text.trim().toLowerCase().replace(",", ".");
  if (["inf", "infinity", "∞"].includes(plain)) return null;
  const minutes = /^(\d+)\s*m(?:in)?\s*(\d+)?\s*s?$/.exec(plain);
  if (minutes && !/^\d+\s*m$/.test(plain)) return Number(minutes[1]) * 60 + Number(minutes[2] ?? 0);
  const fraction = /^(\d+)\s*\/\s*(\d+(?:\.\d+)?)\s*s?$/.exec(plain);
  if (fraction) return Number(fraction[1]) / Number(fraction[2]);
  const number = /^(?:f\s*\/?\s*|iso\s*)?(\d+(?:\.\d+)?)\s*(?:mm|m|s)?$/.exec(plain);
  return number && Number(number[1]) > 0 ? Number(number[1]) : undefined;
}
