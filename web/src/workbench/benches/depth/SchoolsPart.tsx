import { Box, Button, Flex } from "@chakra-ui/react";

import type { SharpnessStudy, Wants } from "../../../api/types";
import { SweepPicture } from "../../../instruments/SweepPicture";
import { ChoiceField, NumberField } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { Facts, Part, QuietHead, Table } from "../parts";
import { STANDARDS } from "./criteria";

const ONE_FOCUS = new Set<string>(["hyperfocal", "third_in", "subject", "balanced"]);

/** What each school of focusing gives here, side by side, and what each aperture does. */
export function SchoolsPart({ study }: { study: SharpnessStudy }) {
  const { store, state, select, selected } = useBench();
  const { wants } = state.draft.composition;
  const want = (part: Partial<Wants>) => store.compose("wants", (c) => ({ wants: { ...c.wants, ...part } }));
  return (
    <>
      <Part title="Where to focus, by school">
        <Table>
          <thead>
            <tr>
              <th>school</th>
              <th>frames</th>
              <th className="left">focused at</th>
              <th>worst blur</th>
              <th className="left">gaps</th>
              <QuietHead>use</QuietHead>
            </tr>
          </thead>
          <tbody>
            {study.ways.map((way) => (
              <tr key={way.school} data-testid={`school-${way.school}`}>
                <td className="wrap">{way.text}</td>
                <td>{way.frames}</td>
                <td className="left wrap">{way.focuses}</td>
                <td className={way.holds ? "good" : "soft"}>
                  <Fig figure={way.worst} />
                  {way.holds ? " holds" : " soft"}
                </td>
                <td className="left wrap">{way.gap_count ? `${way.gap_count}, worst ${way.gap_text}` : "none"}</td>
                <td>
                  <Button
                    onClick={() => {
                      if (ONE_FOCUS.has(way.school)) want({ focus_school: way.school as Wants["focus_school"] });
                      store.act("school", ...way.changes);
                    }}
                    aria-label={`Focus so: ${way.text}`}
                  >
                    Focus so
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
        <Box fontSize="12px" color="muted" mt="1">
          A gap between things that must be sharp may be empty air: the worst blur counts only what must be sharp.
        </Box>
      </Part>
      <Part title="Every aperture, focused as it is" side={<Box fontSize="13px">{study.sweep.sentence}</Box>}>
        <SweepPicture sweep={study.sweep} onPick={(value) => store.act("aperture", { kind: "set", setting: "aperture", value })} />
        <Facts
          rows={[
            ["least blur at", study.sweep.best],
            ["diffraction alone too much from", study.sweep.takes_over],
          ]}
        />
      </Part>
      <Part
        title="Blur in every measure"
        side={
          <Flex gap="2">
            <NumberField
              width="110px"
              label="print wide"
              unit="cm"
              step={5}
              value={wants.print_width_mm / 10}
              onCommit={(v) => v !== null && v >= 5 && v <= 500 && want({ print_width_mm: v * 10 })}
            />
            <ChoiceField
              width="150px"
              label="sharp for"
              value={wants.sharpness_standard}
              options={STANDARDS}
              onCommit={(sharpness_standard) => want({ sharpness_standard })}
            />
          </Flex>
        }
      >
        <Table>
          <thead>
            <tr>
              <th>element</th>
              <th>defocus</th>
              <th>diffraction</th>
              <th>together</th>
              <th>pixels</th>
              <th>{study.print_text}</th>
            </tr>
          </thead>
          <tbody>
            {study.blurs.map((row) => (
              <tr key={row.id} className={row.id === selected ? "chosen" : undefined} onMouseEnter={() => select(row.id)}>
                <td className={row.soft ? "soft" : undefined}>
                  {row.name}
                  {row.soft ? ", soft" : ""}
                  {row.must_be_sharp ? "" : " (may blur)"}
                </td>
                {[row.defocus, row.diffraction, row.total, row.pixels, row.on_print].map((figure, i) => (
                  <td key={i}>
                    <Fig figure={figure} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}
