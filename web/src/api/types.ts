import type { components } from "./schema";

type Schemas = components["schemas"];

/** The server always sends every field; defaults are optional only in what is sent to it. */
export type Complete<T> = T extends readonly [unknown, ...unknown[]]
  ? T
  : T extends readonly (infer U)[]
    ? Complete<U>[]
    : T extends object
      ? { [K in keyof T]-?: Complete<Exclude<T[K], undefined>> }
      : T;

export type Evaluation = Complete<Schemas["Evaluation"]>;
export type Composition = Complete<Schemas["Composition"]>;
export type CompositionOut = Complete<Schemas["CompositionOut"]>;
export type CompositionBrief = Complete<Schemas["CompositionBrief"]>;
export type Element = Complete<Schemas["Element"]>;
export type Wants = Complete<Schemas["Wants"]>;
export type Place = Complete<Schemas["Place"]>;
export type PlaceOut = Complete<Schemas["PlaceOut"]>;
export type KitItemOut = Complete<Schemas["KitItemOut"]>;
export type Body = Complete<Schemas["Body"]>;
export type Lens = Complete<Schemas["Lens"]>;
export type Support = Complete<Schemas["Support"]>;
export type Filter = Complete<Schemas["Filter"]>;
export type Gear = Complete<Schemas["Gear"]>;
export type LightSource = Complete<Schemas["LightSource"]>;
export type SharpnessStudy = Complete<Schemas["SharpnessStudy"]>;
export type CloseUpReport = Complete<Schemas["CloseUpReport"]>;
export type StackPlan = Complete<Schemas["StackPlan"]>;
export type Way = Complete<Schemas["Way"]>;
export type WaysReport = Complete<Schemas["WaysReport"]>;
export type WhyNot = Complete<Schemas["WhyNot"]>;
export type ExposureStudy = Complete<Schemas["ExposureStudy"]>;
export type FilterInUse = Complete<Schemas["FilterInUse"]>;
export type Scene = Complete<Schemas["Scene"]>;
export type Change = NonNullable<Schemas["EvaluateBody"]["changes"]>[number];
export type Readout = Complete<Schemas["Readout"]>;
export type Explanation = Complete<Schemas["Explanation"]>;
export type Answer = Complete<Schemas["Answer"]>;
export type Wish = Schemas["SolveBody"]["wish"];
export type Card = Complete<Schemas["Card"]>;
export type Try = Complete<Schemas["Try"]>;
export type VariantOut = Complete<Schemas["VariantOut"]>;
export type PhotographOut = Complete<Schemas["PhotographOut"]>;
export type PhotographsOut = Complete<Schemas["PhotographsOut"]>;
export type PhotographAim = Complete<Schemas["PhotographAim"]>;
export type Pointed = Complete<Schemas["Pointed"]>;
export type MeasuredElement = Complete<Schemas["MeasuredElement"]>;
export type PanoramaReport = Complete<Schemas["PanoramaReport"]>;
export type Tension = Complete<Schemas["Tension"]>;
export type SettingSummary = Complete<Schemas["SettingSummary"]>;
export type FramingReport = Complete<Schemas["FramingReport"]>;
export type DrawnElement = Complete<Schemas["DrawnElement"]>;
export type PlanReport = Complete<Schemas["PlanReport"]>;
export type SectionReport = Complete<Schemas["SectionReport"]>;
export type LightReport = Complete<Schemas["LightReport"]>;
export type Ribbon = Complete<Schemas["Ribbon"]>;
export type SkylineReport = Complete<Schemas["SkylineReport"]>;
export type YearPicture = Complete<Schemas["YearPicture"]>;
export type LightWindow = Complete<Schemas["LightWindow"]>;
export type LightWish = Complete<Schemas["LightWish"]>;
export type Alignment = Complete<Schemas["Alignment"]>;
export type Passing = Complete<Schemas["Passing"]>;
export type Passings = Complete<Schemas["Passings"]>;
export type Forecast = Complete<Schemas["Forecast"]>;
export type TerrainOut = Complete<Schemas["TerrainOut"]>;
export type TrackOut = Complete<Schemas["TrackOut"]>;
export type ImportOut = Complete<Schemas["ImportOut"]>;
export type Season = Complete<Schemas["Season"]>;
export type DepthReport = Complete<Schemas["DepthReport"]>;
export type LedgerReport = Complete<Schemas["LedgerReport"]>;
export type RangeReport = Complete<Schemas["RangeReport"]>;
export type Sequence = Complete<Schemas["Sequence"]>;
export type PlannedFrame = Complete<Schemas["PlannedFrame"]>;
export type SequenceOut = Complete<Schemas["SequenceOut"]>;
export type TakeOut = Complete<Schemas["TakeOut"]>;
export type TakeBrief = Complete<Schemas["TakeBrief"]>;
export type TakesOut = Complete<Schemas["TakesOut"]>;
export type TakeNew = Schemas["TakeNew"];
export type FrameTaken = Complete<Schemas["FrameTaken"]>;
export type Fault = NonNullable<Schemas["FrameTaken"]["fault"]>;
export type Problem = Complete<Schemas["Problem"]>;
export type PictureOut = Complete<Schemas["PictureOut"]>;
export type FormatOut = Complete<Schemas["FormatOut"]>;
export type StarterKit = Schemas["StarterKit"];
export type OutlookOut = Complete<Schemas["OutlookOut"]>;
export type PhotographRead = Complete<Schemas["PhotographRead"]>;
export type Preferences = Complete<Schemas["PreferencesOut"]>;
export type Who = Complete<Schemas["WhoOut"]>;
export type Person = Complete<Schemas["PersonOut"]>;
export type Role = Exclude<Who["role"], null>;
export type InvitationLink = Complete<Schemas["LinkOut"]>;
export type Job = Complete<Schemas["JobOut"]>;
export type BackupOut = Complete<Schemas["BackupOut"]>;
export type Share = Complete<Schemas["ShareOut"]>;
