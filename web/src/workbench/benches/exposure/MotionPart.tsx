import { Box, Button } from "@chakra-ui/react";

import type { Evaluation, ExposureStudy, Wants } from "../../../api/types";
import { LookStrip } from "../../../instruments/LookStrip";
import { ChoiceField, NumberField, Segments } from "../../../shell/fields";
import { useBench } from "../../context";
import { Facts, Part, QuietHead, Table } from "../parts";

const SCHOOLS = [
  ["seconds", "by seconds"],
  ["travel", "by travel"],
] as const;

/** What each look of water would be here, how fast things move, and what holds the camera. */
export function MotionPart({
  study,
  made,
  wind,
  onWind,
}: {
  study: ExposureStudy;
  made: Evaluation;
  wind: number | null;
  onWind: (wind: number | null) => void;
}) {
  const { store, state } = useBench();
  const { wants, elements } = state.draft.composition;
  const moving = elements.filter((e) => e.motion !== "still");
  const want = (part: Partial<Wants>) => store.compose("wants", (c) => ({ wants: { ...c.wants, ...part } }));
  const give = (id: string, speed_m_s: number) =>
    store.compose("speed", (c) => ({ elements: c.elements.map((e) => (e.id === id ? { ...e, speed_m_s } : e)) }));
  return (
    <>
      <Part
        title="Looks of moving water"
        side={
          <Segments
            label="School"
            value={wants.motion_school}
            options={SCHOOLS}
            onCommit={(motion_school) => want({ motion_school })}
          />
        }
      >
        <Table>
          <thead>
            <tr>
              <th>look</th>
              <th className="left">so drawn here</th>
              <th className="left">by seconds</th>
              <th className="left">by travel</th>
              <QuietHead>use</QuietHead>
            </tr>
          </thead>
          <tbody>
            {study.looks.map((row) => (
              <tr key={row.look} className={row.in_use ? "chosen" : undefined}>
                <td className="wrap">
                  {row.name}
                  <Box fontSize="12px" color="muted">
                    {row.in_use ? "at this shutter" : ""}
                  </Box>
                </td>
                <td className="left">
                  <LookStrip streak={row.streak} name={row.name} />
                  <Box fontSize="12px" color="muted">
                    {row.streak_text}
                  </Box>
                </td>
                <td className="left">{row.by_seconds}</td>
                <td className="left">{row.by_travel}</td>
                <td>
                  {row.wanted ? (
                    "wanted"
                  ) : (
                    <Button onClick={() => want({ water_look: row.look })} aria-label={`Want ${row.name}`}>
                      Want
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
        <Box fontSize="13px" color="muted">
          {study.looks_text}
        </Box>
      </Part>
      <Part
        title="How fast things move"
        side={
          <NumberField
            width="130px"
            label={`wind, ${study.wind_source}`}
            unit="m/s"
            empty
            value={wind ?? study.wind.value}
            onCommit={onWind}
          />
        }
      >
        <Table>
          <tbody>
            {study.speeds.map((row) => (
              <tr key={row.name}>
                <td>{row.name}</td>
                <td>{Number(row.speed_m_s.toPrecision(2))} m/s</td>
                <td className="left wrap note">{row.source}</td>
                <td>
                  {moving.length > 0 ? (
                    <ChoiceField
                      width="150px"
                      quiet
                      label={`Give the speed of ${row.name} to`}
                      value=""
                      options={[["", "give it to …"], ...moving.map((e) => [e.id, e.name] as const)]}
                      onCommit={(id) => id && give(id, Number(row.speed_m_s.toPrecision(2)))}
                    />
                  ) : null}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
      {study.support ? (
        <Part title="What you stand on moves">
          <Facts
            rows={[
              ["shutter no slower than", study.support.limit],
              ["a framing holds for", study.support.holds],
            ]}
          />
          <Box fontSize="13px">{study.support.text}</Box>
          <Box fontSize="13px" color="muted">
            {study.support.stabiliser_text}
          </Box>
        </Part>
      ) : null}
      <Part title="While the shutter is open">
        <Facts
          rows={[
            [
              made.motion.steady ? "by hand no slower than (on a support now)" : "by hand no slower than",
              made.motion.hand_held_limit,
            ],
            ...made.motion.rows.map((row) => [`${row.name} travels`, row.share] as const),
          ]}
        />
        {study.steadiness.map((text) => (
          <Box key={text} fontSize="13px">
            {text}
          </Box>
        ))}
      </Part>
    </>
  );
}
