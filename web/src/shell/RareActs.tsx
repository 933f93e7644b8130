import { Button, Menu, Portal } from "@chakra-ui/react";
import { type ComponentProps, useState } from "react";

export interface Act {
  key: string;
  label: string;
  run: () => void;
}

function Dots({ of, ...rest }: { of: string } & ComponentProps<typeof Button>) {
  return (
    <Button aria-label={`More for ${of}`} variant="ghost" px="8px" {...rest}>
      <svg width="16" height="16" viewBox="0 0 16 16" fill="currentColor" aria-hidden="true">
        <path d="M2 7h3v2H2zM6.500 7h3v2h-3zM11 7h3v2h-3z" />
      </svg>
    </Button>
  );
}

/** What is done rarely, behind three dots. The menu is made when it is first asked for: hundreds of them are costly. */
export function RareActs({ of, acts }: { of: string; acts: Act[] }) {
  const [asked, setAsked] = useState(false);
  if (!asked) return <Dots of={of} aria-haspopup="menu" aria-expanded={false} onClick={() => setAsked(true)} />;
  return <ActsMenu of={of} acts={acts} />;
}

function ActsMenu({ of, acts }: { of: string; acts: Act[] }) {
  return (
    <Menu.Root defaultOpen positioning={{ placement: "bottom-end" }}>
      <Menu.Trigger asChild>
        <Dots of={of} />
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content
            bg="panel"
            color="ink"
            borderWidth="1px"
            borderColor="line"
            borderRadius="3px"
            boxShadow="none"
            minW="160px"
          >
            {acts.map((act) => (
              <Menu.Item key={act.key} value={act.key} onSelect={act.run} cursor="pointer" _highlighted={{ bg: "mossFaint" }}>
                {act.label}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
