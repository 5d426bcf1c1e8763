import type { Me } from "../api/client";

/** A page that is reached from anywhere: its address, its name in the catalogue, its mark. */
export interface Place {
  to: string;
  name: string;
  mark?: string;
}

const today: Place = { to: "/", name: "nav.today", mark: "today" };
const week: Place = { to: "/week", name: "nav.week", mark: "week" };
const pools: Place = { to: "/pools", name: "nav.pools", mark: "pools" };
const waiting: Place = { to: "/waiting", name: "nav.waiting", mark: "waiting" };
const office: Place = { to: "/office", name: "nav.office", mark: "desk" };

/** What stands in the bar of a phone and at the side of a desk. */
export const mainPlaces: Place[] = [today, week, pools, waiting];

/** What stands one tap further on. */
export const morePlaces = (me: Me): Place[] => [
  ...(me.role === "technician" ? [] : [office]),
  { to: "/parts", name: "parts.title" },
  { to: "/runs", name: "runs.title" },
  { to: "/cleaning", name: "cleaningSettings.title" },
  { to: "/track-record", name: "track.title" },
  { to: "/practice", name: "practice.title" },
  { to: "/catalogue", name: "pools.catalogue" },
  { to: "/account", name: "nav.account" },
];
