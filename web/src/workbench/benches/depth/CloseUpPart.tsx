import { Box, Button, Flex } from "@chakra-ui/react";
import { useMemo, useState } from "react";

import type { Change, CloseUpReport, Composition } from "../../../api/types";
import { ChoiceField, NumberField, TickField } from "../../../shell/fields";
import { AmongLenses, Fig, useBench } from "../../context";
import { Facts, Part, QuietHead, Table } from "../parts";
import { SmoothBackground } from "../SmoothBackground";
import { useLenses } from "./useStudies";

type CloseUp = Composition["close_up"];
const SUBJECTS = [
  ["plant", "a plant"],
  ["shy", "shy"],
  ["fixed", "fixed"],
] as const;
const BY = [
  ["magnification", "magnification"],
  ["width", "framed width"],
  ["distance", "distance from the lens"],
] as const;
type By = (typeof BY)[number][0];

/** Set how large by what is known: the magnification, what a ruler shows across the frame, or the distance. */
function HowLarge({ report }: { report: CloseUpReport }) {
  const { store } = useBench();
  const [by, setBy] = useState<By>("magnification");
  const value = { magnification: report.magnification.value, width: report.framed.value, distance: report.subject_distance.value }[
    by
  ];
  const commit = (given: number | null) => {
    if (given === null || given <= 0) return;
    if (by === "distance") store.act("close", { kind: "set", setting: "focus", value: given / 1000 });
    else if (by === "width") store.act("close", { kind: "framed", width_mm: given });
    else store.act("close", { kind: "magnification", magnification: given });
  };
  return (
    <Flex gap="3" align="end" wrap="wrap">
      <ChoiceField width="170px" label="set by" value={by} options={BY} onCommit={setBy} />
      <NumberField
        width="120px"
        label={by === "width" ? "the frame, or a ruler in it, shows" : by === "distance" ? "subject at" : "as large as"}
        unit={by === "magnification" ? "×" : "mm"}
        step={by === "magnification" ? 0.1 : 1}
        value={value === null ? null : Number(value.toPrecision(3))}
        onCommit={commit}
      />
      <Box fontSize="13px" pb="6px">
        within reach: {report.reach_text}
      </Box>
    </Flex>
  );
}

/** How large and how near; lenses side by side; gear; background; wind. */
export function CloseUpPart({ report }: { report: CloseUpReport }) {
  const { store, state } = useBench();
  const lenses = useLenses();
  const beside = useMemo(() => lenses.map((one) => one.details), [lenses]);
  const { close_up } = state.draft.composition;
  const put = (part: Partial<CloseUp>) => store.compose("close-up", (c) => ({ close_up: { ...c.close_up, ...part } }));
  const take = (lens: string | undefined, changes: Change[]) => {
    if (lens) store.edit("lens", (draft) => ({ ...draft, lens_id: lens }));
    store.act("lens", { kind: "fit" }, ...changes);
  };
  const chosen = (gear: string, on: boolean) =>
    close_up.mounted.filter((one) => one.gear_id !== gear).concat(on ? [{ gear_id: gear, draw_mm: 0 }] : []);
  return (
    <AmongLenses lenses={beside}>
      <Part
        title="How large, how near"
        side={
          <ChoiceField
            width="130px"
            label="the subject is"
            value={close_up.subject}
            options={SUBJECTS}
            onCommit={(subject) => put({ subject })}
          />
        }
      >
        <HowLarge report={report} />
        {report.problem ? (
          <Box role="alert" color="rust" mt="1">
            {report.problem}
          </Box>
        ) : null}
        <Box mt="2">
          <Facts
            rows={[
              ["framed", report.framed],
              ["subject from the lens", report.subject_distance],
              ["from the sensor", report.from_sensor],
              ["working distance", report.working_distance],
              ["past the hood", report.past_shade],
              ["working f-number", report.working_aperture],
              ["light lost", report.loss],
              ["depth of one frame", report.depth],
              ["diffraction depth", report.diffraction],
            ]}
          />
        </Box>
        <Box fontSize="13px" color="muted" mt="1">
          {report.loss_text} {report.ruler_text} {report.pupil_text} {report.diffraction_text}
        </Box>
      </Part>
      <Part title="Lenses at the same framed width">
        <Box overflowX="auto">
          <Table>
            <thead>
              <tr>
                <th>lens</th>
                <th className="wrap">working distance, past its hood</th>
                <th className="wrap">near side : far side</th>
                <th className="wrap">background taken in</th>
                <th>blur disk</th>
                <th>depth</th>
                <th>by hand</th>
                <QuietHead>use</QuietHead>
              </tr>
            </thead>
            <tbody>
              {report.lenses.map((row) => (
                <tr key={row.index} className={row.in_use ? "chosen" : undefined} data-testid={`lens-${row.name}`}>
                  <td className="wrap">
                    {row.name}
                    <Box fontSize="12px" color={row.within_reach ? "muted" : "rust"}>
                      {row.reaches}
                    </Box>
                  </td>
                  {row.within_reach ? (
                    <td>
                      <Fig figure={row.working_distance} />
                      <Box fontSize="12px" color="muted">
                        <Fig figure={row.past_shade} />
                      </Box>
                    </td>
                  ) : null}
                  {(row.within_reach ? [row.size_ratio, row.background_width, row.disk, row.depth, row.hand_held] : []).map(
                    (figure, i) => (
                      <td key={i}>
                        <Fig figure={figure} />
                      </td>
                    ),
                  )}
                  {row.within_reach ? (
                    <td>
                      {row.in_use ? (
                        "in use"
                      ) : (
                        <Button onClick={() => take(lenses[row.index]?.id, row.changes)} aria-label={`Use the ${row.name}`}>
                          Use
                        </Button>
                      )}
                    </td>
                  ) : (
                    <td colSpan={7} />
                  )}
                </tr>
              ))}
            </tbody>
          </Table>
        </Box>
      </Part>
      <Part title="Background">
        <Flex gap="3" align="end" wrap="wrap" mb="2">
          <NumberField
            width="170px"
            label="behind the subject (empty: as drawn)"
            unit="mm"
            step={10}
            empty
            value={close_up.behind_mm}
            onCommit={(behind_mm) => put({ behind_mm })}
          />
          <Box fontSize="13px" pb="6px">
            <Fig figure={report.background.ratio} />. {report.background.practice}
          </Box>
        </Flex>
        <Box mb="2">
          <SmoothBackground />
        </Box>
        <Facts
          rows={[
            ["behind", report.background.behind],
            ["blur disk", report.background.disk],
            ["that is", report.background.share],
          ]}
        />
        <Table>
          <tbody>
            {report.background.steps.map((step) => (
              <tr key={step.what}>
                <td className="wrap">{step.what}</td>
                <td>
                  <Fig figure={step.disk} />
                </td>
                <td>{step.gain}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
      <Part
        title="Gear on the lens"
        side={<Button onClick={() => store.act("gear", { kind: "gear", mounted: [] })}>Take all off</Button>}
      >
        <Table>
          <thead>
            <tr>
              <th>with</th>
              <th>from</th>
              <th>to</th>
              <th>light</th>
              <QuietHead>use</QuietHead>
            </tr>
          </thead>
          <tbody>
            {report.gear.map((row) => (
              <tr key={row.name} className={row.mounted ? "chosen" : undefined}>
                <td className="wrap">{row.name}</td>
                <td>
                  <Fig figure={row.least} />
                </td>
                <td>
                  <Fig figure={row.greatest} />
                </td>
                <td>
                  <Fig figure={row.loss} />
                </td>
                <td>
                  {row.mounted ? (
                    "on"
                  ) : (
                    <Button onClick={() => store.act("gear", ...row.changes)} aria-label={`Put on ${row.name}`}>
                      Put on
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
        <Flex gap="4" wrap="wrap" mt="1">
          {(store.scene?.kit.gear ?? [])
            .filter((one) => one.kind === "rail")
            .map((rail) => (
              <TickField
                key={rail.id}
                label={`on the ${rail.name}`}
                value={close_up.mounted.some((one) => one.gear_id === rail.id)}
                onCommit={(on) => store.act("gear", { kind: "gear", mounted: chosen(rail.id, on) })}
              />
            ))}
        </Flex>
        {report.loss.value !== null && report.loss.value > 0.1 ? (
          <>
            <Box fontSize="13px" mt="2" color="muted">
              What the extension takes, found the usual three ways:
            </Box>
            <Table>
              <tbody>
                {report.factors.map((row) => (
                  <tr key={row.way}>
                    <td>{row.way}</td>
                    <td className="left wrap">{row.how}</td>
                    <td>
                      <Fig figure={row.stops} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </>
        ) : null}
      </Part>
    </AmongLenses>
  );
}
