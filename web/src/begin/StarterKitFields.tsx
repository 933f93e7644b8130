import { Box, chakra, Flex } from "@chakra-ui/react";

import type { FormatOut, StarterKit } from "../api/types";
import { ChoiceField, TickField } from "../shell/fields";

const GROUPS = [
  ["lens", "Lenses"],
  ["filter", "Filters"],
  ["support", "Tripod, bag, hands"],
  ["gear", "Close-up gear"],
  ["light", "Lights"],
] as const;

/** What is usually owned with a format: what one begins with. */
export function usualOf(format: FormatOut): StarterKit {
  return { format: format.id, items: format.choices.filter((one) => one.ticked).map((one) => one.id) };
}

/** A sensor format and ticks for what is owned; every value behind them is the usual one. */
export function StarterKitFields({
  formats,
  kit,
  onCommit,
}: {
  formats: FormatOut[];
  kit: StarterKit;
  onCommit: (kit: StarterKit) => void;
}) {
  const format = formats.find((one) => one.id === kit.format);
  if (!format) return null;
  const body = format.choices.find((one) => one.kind === "body");
  return (
    <Flex direction="column" gap="3">
      <ChoiceField
        label="sensor or film"
        value={kit.format}
        options={formats.map((one) => [one.id, `${one.name}, ${one.width_mm} × ${one.height_mm} mm`] as const)}
        onCommit={(id) => {
          const chosen = formats.find((one) => one.id === id);
          if (chosen) onCommit({ ...usualOf(chosen), items: kit.items });
        }}
        hint={body ? `Body: ${body.name}.` : ""}
      />
      {GROUPS.map(([kind, title]) => (
        <Box key={kind} as="fieldset">
          <chakra.legend fontSize="12px" color="muted" fontWeight="500" mb="1">
            {title}
          </chakra.legend>
          <Flex wrap="wrap" columnGap="4" rowGap="1">
            {format.choices
              .filter((one) => one.kind === kind)
              .map((one) => (
                <TickField
                  key={one.id}
                  label={one.name}
                  value={kit.items.includes(one.id)}
                  onCommit={(on) =>
                    onCommit({ ...kit, items: on ? [...kit.items, one.id] : kit.items.filter((id) => id !== one.id) })
                  }
                />
              ))}
          </Flex>
        </Box>
      ))}
      <Box fontSize="12.5px" color="muted">
        Everything gets its usual values, marked as usual in your kit until you have looked at them.
      </Box>
    </Flex>
  );
}
