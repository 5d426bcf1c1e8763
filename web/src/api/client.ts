import createFetch from "openapi-fetch";
import createClient from "openapi-react-query";
import { tellLine } from "./line";
import { Between, ours } from "./proof";
import type { components, paths } from "./schema";

/** A question that its own page took back as it went says nothing of the line. */
export const givenUp = (error: unknown): boolean => error instanceof Error && error.name === "AbortError";

export const http = createFetch<paths>({ baseUrl: "/" });
http.use({
  onResponse: ({ response }) => {
    tellLine(ours(response));
    // A guest network's page is no answer, whatever its status says.
    if (!ours(response)) throw new Between();
  },
  onError: ({ error }) => {
    if (!givenUp(error)) tellLine(false);
  },
});
export const api = createClient(http);

type Schemas = components["schemas"];
export type Me = Schemas["Me"];
export type LapView = Schemas["LapView"];
export type StopView = Schemas["StopView"];
export type Bench = Schemas["Bench"];
export type Verdict = Schemas["Verdict"];
export type Findings = Schemas["Findings"];
export type TypedReading = Schemas["TypedReading"];
export type VisitDraft = Schemas["VisitDraft"];
export type VisitRecord = Schemas["VisitRecord"];
export type PoolRecordView = Schemas["PoolRecordView"];
export type PoolLine = Schemas["PoolLine"];
export type PartLine = Schemas["PartLine"];
export type PadDocument = Schemas["Document"];
export type PadOnRecord = Schemas["PadOnRecord"];
export type PadPreview = Schemas["PadPreview"];
export type PathsAsk = Schemas["PathsAsk"];
export type PathsView = Schemas["PathsView"];
export type LimitsView = Schemas["LimitsView"];
export type WalkFit = Schemas["WalkFit"];
export type CatalogueItem = Schemas["CatalogueItem"];
export type TrackRecord = Schemas["TrackRecord"];
export type WeekView = Schemas["WeekView"];
export type Person = Schemas["Person"];
export type DueView = Schemas["DueView"];
export type PoolCleaning = Schemas["PoolCleaningView"];
export type CleaningSettings = Schemas["CleaningSettings"];
export type Sketch = Schemas["Sketch"];
export type RunView = Schemas["RunView"];
export type RunEvent = Schemas["RunEvent"];
export type RunLine = Schemas["RunLine"];
export type RunBrief = Schemas["RunBrief"];
export type PoolWork = Schemas["PoolWork"];
export type ProcedureBrief = Schemas["ProcedureBrief"];
export type PoolAbout = Schemas["PoolAbout"];
export type PaperPage = Schemas["Page"];
export type PaperName = Schemas["PaperName"];
export type LogEntry = Schemas["LogEntry"];
export type CompanyView = Schemas["CompanyView"];
export type PracticeAsk = Schemas["PracticeAsk"];
export type PracticeAnswer = Schemas["PracticeAnswer"];
export type PracticeView = Schemas["PracticeView"];
export type PracticeDebrief = Schemas["PracticeDebrief"];
export type PracticeEvent = Schemas["PracticeEvent"];
export type PracticeStanding = Schemas["PracticeStanding"];
export type PracticeCaseRow = Schemas["PracticeCaseRow"];
export type PracticePerson = Schemas["PracticePersonRow"];
export type PersonRow = Schemas["PersonRow"];
export type ImportView = Schemas["ImportView"];
export type RowOutcome = Schemas["RowOutcome"];
export type FirstStep = Schemas["FirstStep"];
export type PlanView = Schemas["PlanView"];
export type Inspection = Schemas["InspectionView"];
export type Problem = Schemas["ErrorModel"];

/** Sentences by field path, from a problem answer ("readings[0].tank"). */
export function fieldSays(problem: Problem | null | undefined): Record<string, string> {
  const out: Record<string, string> = {};
  for (const e of problem?.errors ?? []) {
    if (e.location && e.message) out[e.location.replace(/^body\./, "")] = e.message;
  }
  return out;
}

/** True for trouble that may pass by itself: no network, or a server that can't reach its record. */
export function mayPass(error: unknown): boolean {
  const status = (error as Problem | undefined)?.status;
  return status === undefined || status >= 500;
}
