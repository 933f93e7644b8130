import { Box, Button, Flex } from "@chakra-ui/react";

import type { Composition, Evaluation } from "../../../api/types";
import { PanoramaStrip } from "../../../instruments/PanoramaStrip";
import { NumberField, Segments } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { Facts, Part, Table } from "../parts";
import { HELD, HOLDS } from "../../held";

type Panorama = Composition["panorama"];

/** A picture of several panels: span, overlap, yaw stops, what it stitches to, readings and cautions. */
export function PanoramaPart({ made }: { made: Evaluation }) {
  const { store, state, selected } = useBench();
  const { composition } = state.draft;
  const { panorama } = composition;
  const report = made.panorama;
  const errors = state.problem?.errors ?? [];
  const error = (field: string) => errors.find((one) => one.pointer.endsWith(`/panorama/${field}`))?.message;
  const put = (part: Partial<Panorama>) =>
    store.compose(`panorama ${Object.keys(part).join()}`, (c) => ({ panorama: { ...c.panorama, ...part } }));
  const span = (ids: string[]) => ids.length > 0 && store.act("span", { kind: "span", element_ids: ids });
  const standing = composition.elements.filter((e) => e.role !== "sky");
  const number = (label: string, field: "from_deg" | "to_deg" | "pupil_offset_mm", unit: string, step: number) => (
    <NumberField
      width="112px"
      label={label}
      unit={unit}
      step={step}
      value={panorama[field]}
      error={error(field)}
      onCommit={(v) => v !== null && put({ [field]: v })}
    />
  );
  // A reading belongs to where its panel looks; another for the same panel takes its place.
  const read = (azimuth: number, before: number | null, ev: number | null) =>
    put({
      read_at_utc: composition.moment_utc,
      readings: [
        ...panorama.readings.filter((one) => one.azimuth_deg !== before),
        ...(ev === null ? [] : [{ azimuth_deg: azimuth, ev100: ev }]),
      ],
    });
  return (
    <>
      <Part
        word="panel"
        title="Panorama"
        side={
          <Segments
            label="Panorama"
            value={panorama.on ? "on" : "off"}
            options={[
              ["off", "one frame"],
              ["on", "panels"],
            ]}
            onCommit={(on) => put({ on: on === "on" })}
          />
        }
      >
        <Flex gap="3" wrap="wrap" align="end">
          {number("from azimuth", "from_deg", "°", 1)}
          {number("clockwise to", "to_deg", "°", 1)}
          <NumberField
            width="100px"
            label="overlap"
            unit="%"
            step={5}
            value={Math.round(panorama.overlap * 100)}
            error={error("overlap")}
            onCommit={(v) => v !== null && put({ overlap: v / 100 })}
          />
          <NumberField
            width="120px"
            label="lower edge"
            unit="°"
            empty
            value={panorama.bottom_deg}
            error={error("bottom_deg")}
            onCommit={(v) => put({ bottom_deg: v })}
          />
          <NumberField
            width="120px"
            label="upper edge"
            unit="°"
            empty
            value={panorama.top_deg}
            error={error("top_deg")}
            onCommit={(v) => put({ top_deg: v })}
          />
          {number("pupil off the axis by", "pupil_offset_mm", "mm", 5)}
          <Segments
            label="Panels held"
            value={composition.orientation}
            options={HOLDS}
            onCommit={(orientation) => store.act("hold", { kind: "hold", orientation })}
          />
          <Button variant="outline" onClick={() => span(standing.map((e) => e.id))} disabled={standing.length === 0}>
            Span every element
          </Button>
          {selected ? <Button onClick={() => span([selected])}>Span the selected one</Button> : null}
        </Flex>
        <Box fontSize="12.5px" color="muted" mt="1">
          Without a lower and upper edge there is one row at the camera&rsquo;s pitch.
        </Box>
      </Part>
      {report ? (
        <>
          <Part
            title={[
              `${report.count.text} ${report.count.value === 1 ? "panel" : "panels"}`,
              ...(report.rows > 1 ? [`in ${report.rows} rows`] : []),
            ]
              .join(" ")
              .concat(`, ${HELD[composition.orientation]}`)}
          >
            <PanoramaStrip panorama={report} />
            <Facts
              rows={[
                ["span", report.span],
                ["turn between panels", report.step],
                ["overlap", report.overlap],
                ["stitched", report.stitched],
                ["print at 300 per inch", report.print_size],
                ["nearest thing shifts", report.parallax],
                ["a base 1° off level", report.base],
                ["all panels take", made.sequence.total],
                ["light changes by", made.sequence.drift],
              ]}
            />
            <Box as="ul" pl="4" mt="2" fontSize="13.5px" css={{ listStyle: "square" }}>
              {report.cautions.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </Box>
          </Part>
          <Part title="Panel by panel: turn, and the reading there (the brightest sets the exposure of all)">
            <Table>
              <thead>
                <tr>
                  <th className="left">panel</th>
                  <th>azimuth</th>
                  <th>pitch</th>
                  <th className="left">turn</th>
                  <th>reading</th>
                  <th>to the brightest</th>
                </tr>
              </thead>
              <tbody>
                {report.panels.map((panel) => {
                  const azimuth = panel.azimuth.value ?? 0;
                  return (
                    <tr key={panel.number} className={panel.brightest ? "soft" : undefined}>
                      <td className="left">
                        {panel.number}
                        {panel.brightest ? " brightest" : ""}
                      </td>
                      <td>
                        <Fig figure={panel.azimuth} />
                      </td>
                      <td>{panel.pitch.text}</td>
                      <td className="left">{panel.turn}</td>
                      <td>
                        <NumberField
                          quiet
                          width="96px"
                          label={`reading of panel ${panel.number}`}
                          unit="EV"
                          step={1 / 3}
                          empty
                          value={panel.reading_ev100}
                          onCommit={(v) => read(azimuth, panel.read_deg, v)}
                        />
                      </td>
                      <td>{panel.against}</td>
                    </tr>
                  );
                })}
              </tbody>
            </Table>
          </Part>
        </>
      ) : (
        <Part>
          <Box color="muted">
            One frame. Switch to panels, or let the panorama span the elements: it works out panels, turns and rows.
          </Box>
        </Part>
      )}
    </>
  );
}
