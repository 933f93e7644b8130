import type { components } from "./schema";

type Schemas = components["schemas"];

/** The server always sends every field; defaults are optional only in what is sent to it. */
type Full<T> = T extends readonly [unknown, ...unknown[]]
  ? T
  : T extends readonly (infer U)[]
    ? Full<U>[]
    : T extends object
      ? { [K in keyof T]-?: Full<Exclude<T[K], undefined>> }
      : T;

export type Evaluation = Full<Schemas["Evaluation"]>;
export type Composition = Full<Schemas["Composition"]>;
export type CompositionOut = Full<Schemas["CompositionOut"]>;
export type CompositionBrief = Full<Schemas["CompositionBrief"]>;
export type Element = Full<Schemas["Element"]>;
export type Wants = Full<Schemas["Wants"]>;
export type Place = Full<Schemas["Place"]>;
export type PlaceOut = Full<Schemas["PlaceOut"]>;
export type KitItemOut = Full<Schemas["KitItemOut"]>;
export type Body = Full<Schemas["Body"]>;
export type Lens = Full<Schemas["Lens"]>;
export type Support = Full<Schemas["Support"]>;
export type Filter = Full<Schemas["Filter"]>;
export type Gear = Full<Schemas["Gear"]>;
export type LightSource = Full<Schemas["LightSource"]>;
export type SharpnessStudy = Full<Schemas["SharpnessStudy"]>;
export type CloseUpReport = Full<Schemas["CloseUpReport"]>;
export type StackPlan = Full<Schemas["StackPlan"]>;
export type Way = Full<Schemas["Way"]>;
export type WaysReport = Full<Schemas["WaysReport"]>;
export type WhyNot = Full<Schemas["WhyNot"]>;
export type ExposureStudy = Full<Schemas["ExposureStudy"]>;
export type FilterInUse = Full<Schemas["FilterInUse"]>;
export type Scene = Full<Schemas["Scene"]>;
export type Change = NonNullable<Schemas["EvaluateBody"]["changes"]>[number];
export type Figure = Full<Schemas["Figure"]>;
export type Explanation = Full<Schemas["Explanation"]>;
export type Answer = Full<Schemas["Answer"]>;
export type Wish = Schemas["SolveBody"]["wish"];
export type Card = Full<Schemas["Card"]>;
export type Try = Full<Schemas["Try"]>;
export type VariantOut = Full<Schemas["VariantOut"]>;
export type PhotographOut = Full<Schemas["PhotographOut"]>;
export type PhotographsOut = Full<Schemas["PhotographsOut"]>;
export type PhotographAim = Full<Schemas["PhotographAim"]>;
export type MeasuredElement = Full<Schemas["MeasuredElement"]>;
export type PanoramaReport = Full<Schemas["PanoramaReport"]>;
export type Tension = Full<Schemas["Tension"]>;
export type Chip = Full<Schemas["Chip"]>;
export type FramingReport = Full<Schemas["FramingReport"]>;
export type DrawnElement = Full<Schemas["DrawnElement"]>;
export type PlanReport = Full<Schemas["PlanReport"]>;
export type SectionReport = Full<Schemas["SectionReport"]>;
export type LightReport = Full<Schemas["LightReport"]>;
export type Ribbon = Full<Schemas["Ribbon"]>;
export type SkylineReport = Full<Schemas["SkylineReport"]>;
export type YearPicture = Full<Schemas["YearPicture"]>;
export type Chance = Full<Schemas["Chance"]>;
export type LightWish = Full<Schemas["LightWish"]>;
export type Alignment = Full<Schemas["Alignment"]>;
export type Passing = Full<Schemas["Passing"]>;
export type Passings = Full<Schemas["Passings"]>;
export type Forecast = Full<Schemas["Forecast"]>;
export type TerrainOut = Full<Schemas["TerrainOut"]>;
export type TrackOut = Full<Schemas["TrackOut"]>;
export type ContoursOut = Full<Schemas["ContoursOut"]>;
export type ImportOut = Full<Schemas["ImportOut"]>;
export type Season = Full<Schemas["Season"]>;
export type DepthReport = Full<Schemas["DepthReport"]>;
export type LedgerReport = Full<Schemas["LedgerReport"]>;
export type RangeReport = Full<Schemas["RangeReport"]>;
export type Sequence = Full<Schemas["Sequence"]>;
export type Exposed = Full<Schemas["Exposed"]>;
export type SequenceOut = Full<Schemas["SequenceOut"]>;
export type TakeOut = Full<Schemas["TakeOut"]>;
export type TakeBrief = Full<Schemas["TakeBrief"]>;
export type TakesOut = Full<Schemas["TakesOut"]>;
export type TakeNew = Schemas["TakeNew"];
export type FrameTaken = Full<Schemas["FrameTaken"]>;
export type Fault = NonNullable<Schemas["FrameTaken"]["fault"]>;
export type Problem = Full<Schemas["Problem"]>;
