import { Box, Flex } from "@chakra-ui/react";

import type { CloseUpReport, Composition } from "../../../api/types";
import { ChoiceField, NumberField, TickField } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { Part, Table } from "../parts";

type InUse = Composition["close_up"]["lights"][number];
const POWERS = [1, 1 / 2, 1 / 4, 1 / 8, 1 / 16, 1 / 32, 1 / 64, 1 / 128].map(
  (share) => [String(share), share === 1 ? "full" : `1/${1 / share}`] as const,
);

/** Flash and lamp beside the light that is there, each an account in stops. */
export function LightsPart({ report }: { report: CloseUpReport }) {
  const { store, state } = useBench();
  const { lights } = state.draft.composition.close_up;
  const owned = store.scene?.kit.lights ?? [];
  const put = (to: InUse[]) => store.compose("lights", (c) => ({ close_up: { ...c.close_up, lights: to } }));
  const change = (id: string, part: Partial<InUse>) => put(lights.map((one) => (one.light_id === id ? { ...one, ...part } : one)));
  const found = report.lights;
  return (
    <>
      <Part title="Lights that are on">
        {owned.length === 0 ? <Box color="muted">None owned. Add a flash or a lamp to the kit.</Box> : null}
        {owned.map((light) => {
          const use = lights.find((one) => one.light_id === light.id);
          return (
            <Flex key={light.id} gap="3" align="end" wrap="wrap" py="4px" borderTopWidth="1px" borderColor="line">
              <Box w="160px" pb="4px">
                <TickField
                  label={light.name}
                  value={Boolean(use)}
                  onCommit={(on) =>
                    put(
                      on
                        ? [...lights, { light_id: light.id, distance_m: 0.3, power: 1 / 16 }]
                        : lights.filter((one) => one.light_id !== light.id),
                    )
                  }
                />
              </Box>
              {use ? (
                <NumberField
                  width="130px"
                  label={`${light.name} from the subject`}
                  unit="m"
                  step={0.05}
                  value={use.distance_m}
                  onCommit={(v) => v !== null && v >= 0.01 && change(light.id, { distance_m: v })}
                />
              ) : null}
              {use && light.kind === "flash" ? (
                <ChoiceField
                  width="110px"
                  label={`power of the ${light.name}`}
                  value={(POWERS.find(([share]) => Math.abs(Number(share) - use.power) < 1e-9) ?? POWERS[4] ?? ["1", "full"])[0]}
                  options={POWERS}
                  onCommit={(share) => change(light.id, { power: Number(share) })}
                />
              ) : null}
            </Flex>
          );
        })}
      </Part>
      <Part title="Accounts, in stops above a mid-tone" side={found.ratio ? <Box fontSize="13px">{found.ratio}</Box> : null}>
        <Table>
          <tbody>
            {found.accounts.map((row) => (
              <tr key={row.light_id || row.kind} data-testid={`account-${row.kind}`}>
                <td>{row.name}</td>
                <td>
                  <Fig figure={row.stops} strong />
                </td>
                <td>
                  <Fig figure={row.share} />
                </td>
                <td className="left wrap">{row.says}</td>
              </tr>
            ))}
            <tr>
              <td>together</td>
              <td>
                <Fig figure={found.together} strong />
              </td>
              <td />
              <td className="left">
                <Fig figure={found.frames_per_minute} />
              </td>
            </tr>
          </tbody>
        </Table>
        {found.problems.map((text) => (
          <Box key={text} role="alert" color="rust" fontSize="13px" mt="1">
            {text}
          </Box>
        ))}
      </Part>
      {found.cautions.map((text) => (
        <Box key={text} role="note" fontSize="13px" mb="1">
          {text}
        </Box>
      ))}
    </>
  );
}
