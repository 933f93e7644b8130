import { Box, Button, Flex } from "@chakra-ui/react";

import type { CloseUpReport, Composition } from "../../../api/types";
import { StackOutline } from "../../../instruments/StackOutline";
import { NumberField, TickField } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { Part, Table } from "../parts";

/** A close-up stack by rail, ring or sway: frames, steps, time; hands and wind. */
export function CloseStackPart({ report }: { report: CloseUpReport }) {
  const { store, state } = useBench();
  const { close_up, technique } = state.draft.composition;
  const put = (part: Partial<Composition["close_up"]>) =>
    store.compose("close-up", (c) => ({ close_up: { ...c.close_up, ...part } }));
  const shown = report.stacks.find((one) => one.in_use) ?? report.stacks.find((one) => one.frames > 0);
  return (
    <>
      <Part title="The subject, front to back">
        <Flex gap="3" align="end" wrap="wrap">
          <NumberField
            width="190px"
            label="deep (empty: as drawn)"
            unit="mm"
            step={1}
            empty
            value={close_up.subject_depth_mm}
            onCommit={(subject_depth_mm) => put({ subject_depth_mm })}
          />
          <NumberField
            width="110px"
            label="overlap"
            unit="%"
            step={5}
            value={Math.round(technique.overlap * 100)}
            onCommit={(v) => v !== null && store.compose("overlap", (c) => ({ technique: { ...c.technique, overlap: v / 100 } }))}
          />
          <TickField
            label="count diffraction depth from half life size"
            value={close_up.count_diffraction}
            onCommit={(count_diffraction) => put({ count_diffraction })}
          />
        </Flex>
        {shown && shown.frames > 0 ? <StackOutline plan={shown} /> : null}
      </Part>
      {report.stacks.map((plan) => (
        <Part
          key={plan.means}
          title={`By ${plan.name}`}
          side={
            plan.frames > 0 ? (
              plan.in_use ? (
                <Box fontWeight="700">in use</Box>
              ) : (
                <Button
                  variant="outline"
                  onClick={() => store.act("slices", ...plan.changes)}
                  aria-label={`Stack so, by ${plan.name}`}
                >
                  Stack so
                </Button>
              )
            ) : null
          }
        >
          <Box data-testid={`stack-${plan.means}`}>
            {plan.frames > 0 ? (
              <>
                <Box fontSize="15px">
                  <Box as="span" fontFamily="mono" fontWeight="700">
                    {plan.frames}
                  </Box>{" "}
                  {plan.frames === 1 ? "frame" : "frames"}, step <Fig figure={plan.step} />, in <Fig figure={plan.time} />
                </Box>
                <Box fontSize="13px">
                  {plan.step_text}. First <Fig figure={plan.first} />, last <Fig figure={plan.last} />; {plan.pace}.
                </Box>
                <Box fontSize="13px" color="muted">
                  {plan.perspective}
                </Box>
              </>
            ) : null}
            {plan.problem ? (
              <Box role="alert" color="rust" fontSize="13px">
                {plan.problem}
              </Box>
            ) : null}
          </Box>
        </Part>
      ))}
      {report.stacks.some((one) => one.in_use) ? (
        <Box mb="8px">
          <Button onClick={() => store.act("slices", { kind: "slices", mode: "one", foci_m: [] })}>One frame instead</Button>
        </Box>
      ) : null}
      <Part title="Wind and hands">
        <Flex gap="3" align="end" wrap="wrap">
          <NumberField
            width="170px"
            label="the subject sways, at its fastest"
            unit="mm/s"
            step={1}
            value={close_up.speed_mm_s}
            onCommit={(v) => v !== null && put({ speed_mm_s: v })}
          />
          <Box fontSize="13px" pb="6px" flex="1">
            up to <Fig figure={report.sway} strong />. {report.sway_text}
          </Box>
        </Flex>
        <Table>
          <tbody>
            {report.hand.map((row) => (
              <tr key={row.what}>
                <td className="wrap">{row.what}</td>
                <td>
                  <Fig figure={row.floor} />
                </td>
                <td className="left wrap">{row.says}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
      {report.cautions.map((text) => (
        <Box key={text} role="note" fontSize="13px" mb="1">
          {text}
        </Box>
      ))}
    </>
  );
}
