import { Box, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { accountQuery } from "../account/account";
import { api, ask, wordsOf, problemOf } from "../api/client";
import { preferencesQuery, queryClient } from "../api/queries";
import type { Preferences } from "../api/types";
import { ChoiceField, NumberField, Segments, TickField } from "../shell/fields";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { chooseUnits, useUnits } from "../shell/units";
import { heldStill, holdStill } from "../theme/motion";
import { useTheme } from "../theme/ThemeChoice";
import { GOLDEN } from "../workbench/benches/light/golden";
import { STANDARDS } from "../workbench/benches/depth/criteria";
import { Backups } from "./Backups";
import { Everything } from "./Everything";
import { Group } from "./Group";
import { People } from "./People";
import { YourAccount } from "./YourAccount";

const SCHOOLS = [
  ["balanced", "evenly spread blur"],
  ["hyperfocal", "hyperfocal distance"],
  ["third_in", "a third into the scene"],
  ["subject", "on the subject"],
] as const;
const MOTION = [
  ["seconds", "by seconds"],
  ["travel", "by how far it travels in the frame"],
] as const;

/** What a new composition takes over, kept on the server; saved at every choice. */
function NewCompositions({ now }: { now: Preferences }) {
  const save = useMutation({
    mutationFn: async (next: Preferences) => ask(api.PUT("/api/preferences", { body: next })),
    onSuccess: (saved) => queryClient.setQueryData(preferencesQuery.queryKey, saved),
  });
  const put = (part: Partial<Preferences>) => save.mutate({ ...now, ...part });
  return (
    <Group title="New compositions" about="What a new composition takes over. Those that are there stay as they are.">
      <ChoiceField
        width="320px"
        label="schools come from"
        value={now.take_over}
        options={[
          ["last", "the composition worked on last"],
          ["chosen", "the choices below"],
        ]}
        onCommit={(take_over) => put({ take_over })}
      />
      <ChoiceField
        width="320px"
        label="how sharp is sharp"
        value={now.sharpness_standard}
        options={STANDARDS}
        onCommit={(sharpness_standard) => put({ sharpness_standard })}
      />
      <ChoiceField
        width="320px"
        label="where to focus"
        value={now.focus_school}
        options={SCHOOLS}
        onCommit={(focus_school) => put({ focus_school })}
      />
      <ChoiceField
        width="320px"
        label="looks of moving water"
        value={now.motion_school}
        options={MOTION}
        onCommit={(motion_school) => put({ motion_school })}
      />
      <ChoiceField
        width="320px"
        label="golden and blue hour"
        value={now.golden_hour}
        options={GOLDEN}
        onCommit={(golden_hour) => put({ golden_hour })}
      />
      <Flex gap="3">
        <NumberField
          width="150px"
          label="prints are wide"
          unit="mm"
          step={50}
          value={now.print_width_mm}
          onCommit={(mm) => mm !== null && put({ print_width_mm: mm })}
        />
        <NumberField
          width="150px"
          label="ISO at most"
          step={100}
          value={now.highest_iso}
          onCommit={(iso) => iso !== null && put({ highest_iso: iso })}
        />
      </Flex>
      {save.isError ? (
        <Box role="alert" color="rust">
          {wordsOf(problemOf(save.error))}
        </Box>
      ) : null}
    </Group>
  );
}

/** Choices made once: how this screen looks, in what units, and what new compositions begin with. */
export default function SettingsPage() {
  const preferences = useQuery(preferencesQuery);
  const { data: who } = useQuery(accountQuery);
  const units = useUnits();
  const { wished, choose } = useTheme();
  const [still, setStill] = useState(heldStill);
  return (
    <Page title="Settings" intro="Chosen once. What hangs on a picture stays with the picture.">
      <Box
        display="grid"
        gridTemplateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }}
        gap="5"
        alignItems="start"
      >
        <Flex direction="column" gap="5">
          <Group
            title="This screen"
            about="Day for sun on the screen, Dusk dim and quiet, Night deep red so that eyes stay adapted."
          >
            <Segments
              label="Theme"
              value={wished}
              options={[
                ["day", "Day"],
                ["dusk", "Dusk"],
                ["night", "Night"],
                ["system", "as the system wishes"],
              ]}
              onCommit={choose}
            />
            <TickField
              label="nothing moves by itself"
              value={still}
              onCommit={(on) => {
                holdStill(on);
                setStill(on);
              }}
            />
          </Group>
          <Group title="Units" about="Distances and sizes everywhere; apertures, times and ISO are what they are.">
            <Segments
              label="Units"
              value={units}
              options={[
                ["metric", "metres"],
                ["feet", "feet and inches"],
              ]}
              onCommit={chooseUnits}
            />
          </Group>
          <Everything maySend={who?.role !== "viewer"} />
          {who?.role === "owner" ? <Backups /> : null}
          <Group title="Ways round" about="Every key is behind ? on the workbench.">
            <Link to="/words" style={{ textDecoration: "underline" }}>
              Words that mean something narrower here
            </Link>
          </Group>
        </Flex>
        <Flex direction="column" gap="5">
          {preferences.isError && !preferences.data ? (
            <Trouble error={preferences.error} again={() => void preferences.refetch()} />
          ) : preferences.data ? (
            <NewCompositions now={preferences.data} />
          ) : (
            <Loading what="your choices" />
          )}
          {who?.accounts && who.role ? <YourAccount who={who} /> : null}
          {who?.accounts && who.role === "owner" ? <People who={who} /> : null}
        </Flex>
      </Box>
    </Page>
  );
}
