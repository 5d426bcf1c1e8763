import type { Active, CollisionDetection, DroppableContainer, KeyboardCoordinateGetter } from "@dnd-kit/core";
import type { WeekView } from "../../api/client";

export type Day = WeekView["days"][number];
export type Stop = Day["stops"][number];
export type Due = Stop["due"][number];

/** What is being dragged: a stop, or one piece of its due work. */
export interface Load {
  stop: Stop;
  due?: Due;
  date: string;
  technicianId: string;
}

/** Where it can go: a technician's day, or (in the strip) just a day. */
export interface Place {
  date: string;
  technicianId?: string;
}

export const loadOf = (active: Active | null) => (active?.data.current as { load: Load } | undefined)?.load;
export const placeOf = (c: { data: { current?: unknown } } | null) =>
  (c?.data.current as { place: Place } | undefined)?.place;

/** Whether a place takes what is dragged; the server has the last word. */
export function takes(load: Load, place: Place): boolean {
  const here = place.date === load.date;
  if (load.due) return !here && load.stop.visits.includes(place.date);
  if (place.technicianId === "") return false;
  const whose = place.technicianId ?? load.technicianId;
  if (here) return whose !== load.technicianId;
  return !load.stop.visits.includes(place.date);
}

/** The droppable under the pointer or, without one, under the corner that the keys move. */
export const underTheHand: CollisionDetection = ({
  pointerCoordinates,
  collisionRect,
  droppableRects,
  droppableContainers,
}) => {
  const at = pointerCoordinates ?? { x: collisionRect.left + 2, y: collisionRect.top + 2 };
  return droppableContainers
    .filter((c) => {
      const r = droppableRects.get(c.id);
      return r && at.x >= r.left && at.x < r.right && at.y >= r.top && at.y < r.bottom;
    })
    .map((c) => ({ id: c.id }));
};

/** Arrow keys go from day to day and from one technician to the next; past the board, along the strip. */
export const byTheKeys: KeyboardCoordinateGetter = (event, { context }) => {
  const load = loadOf(context.active);
  const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 }[event.code];
  if (!load || !step) return undefined;
  event.preventDefault();
  const spots = context.droppableContainers.getEnabled().filter((c) => placeOf(c) && context.droppableRects.has(c.id));
  const at = placeOf(context.over) ?? { date: load.date, technicianId: load.technicianId };
  const whose = at.technicianId ?? load.technicianId;
  const board = new Set(
    spots
      .map(placeOf)
      .filter((p) => p?.technicianId !== undefined)
      .map((p) => p?.date),
  );
  const line = (c: DroppableContainer) => {
    const p = placeOf(c) as Place;
    return p.technicianId === undefined ? !board.has(p.date) : p.technicianId === whose;
  };
  const sideways = event.code === "ArrowLeft" || event.code === "ArrowRight";
  const row = sideways
    ? spots.filter(line)
    : spots.filter((c) => placeOf(c)?.date === at.date && placeOf(c)?.technicianId !== undefined);
  const key = (c: DroppableContainer) =>
    (sideways ? placeOf(c)?.date : rectTop(context.droppableRects.get(c.id)?.top)) ?? "";
  const sorted = row.sort((a, b) => (key(a) < key(b) ? -1 : 1));
  const now = sideways ? at.date : rectTop(context.over?.rect.top ?? context.collisionRect?.top);
  const next = step > 0 ? sorted.find((c) => key(c) > now) : sorted.filter((c) => key(c) < now).at(-1);
  const rect = next && context.droppableRects.get(next.id);
  return rect ? { x: rect.left + 4, y: rect.top + 4 } : undefined;
};

const rectTop = (top = 0) => String(Math.round(top) + 100_000);
