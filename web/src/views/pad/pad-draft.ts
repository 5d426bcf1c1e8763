import { v7 as uuid } from "uuid";
import type { PadDocument } from "../../api/client";

/** The least that somebody can say of a pad, as typed. */
export interface Least {
  /** Which picture it looks like; empty: none was chosen. */
  looks?: string;
  pump: string;
  filter: string;
  heater: string;
  cell: string;
  pipeIn: string;
  lengthFt: string;
  spa: boolean;
  hasVacuum: boolean;
  hasFlow: boolean;
  hasPower: boolean;
}

/** A pad being described: kept on this device until the server has it. */
export interface PadDraft {
  poolId: string;
  street: string;
  which: string;
  town: string;
  gallons: string;
  surface: string;
  accessNote: string;
  ground: "in" | "above";
  customer: string;
  customerId: string;
  phone: string;
  technician?: string;
  weekday?: string;
  least: Least;
  /** The document once it is refined by hand; before that the least draws it. */
  doc: PadDocument | null;
  /** Figures as typed, by path, where they differ from the document's own. */
  texts: Record<string, string>;
  reason: "description" | "work";
  note: string;
  basedOn: number;
}

export const freshDraft = (): PadDraft => ({
  poolId: uuid(),
  street: "",
  which: "",
  town: "",
  gallons: "",
  surface: "plaster",
  accessNote: "",
  ground: "in",
  customer: "",
  customerId: uuid(),
  phone: "",
  least: {
    pump: "",
    filter: "",
    heater: "",
    cell: "",
    pipeIn: "2",
    lengthFt: "",
    spa: false,
    hasVacuum: false,
    hasFlow: false,
    hasPower: false,
  },
  doc: null,
  texts: {},
  reason: "description",
  note: "",
  basedOn: 0,
});

/** Nominal pipe sizes and their inside diameters, Schedule 40. */
export const pipes = [
  { nominal: "1.5", bore: 1.61 },
  { nominal: "2", bore: 2.067 },
  { nominal: "2.5", bore: 2.469 },
  { nominal: "3", bore: 3.068 },
] as const;
