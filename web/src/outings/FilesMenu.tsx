import { Button, Menu, Portal } from "@chakra-ui/react";

import { useUnits } from "../shell/units";

const FORMS = [
  ["pdf", "On paper: a page a day, and the note (PDF)"],
  ["note.txt", "Note to leave behind (text)"],
  ["ics", "Calendar, with alarms to leave (iCalendar)"],
  ["gpx", "Standpoints and ways (GPX)"],
  ["json", "Everything (JSON)"],
] as const;

/** What an outing can be written out as. */
export function FilesMenu({ id, disabled }: { id: string; disabled: boolean }) {
  const units = useUnits();
  return (
    <Menu.Root positioning={{ placement: "bottom-end" }}>
      <Menu.Trigger asChild>
        <Button disabled={disabled} title={disabled ? "Once it is saved" : ""}>
          Write out
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="panel" color="ink" borderWidth="1px" borderColor="line" borderRadius="3px" boxShadow="none">
            {FORMS.map(([form, words]) => (
              <Menu.Item key={form} value={form} asChild cursor="pointer" _highlighted={{ bg: "mossFaint" }}>
                <a href={`/api/outings/${id}/files/${form}?units=${units}`} download>
                  {words}
                </a>
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
