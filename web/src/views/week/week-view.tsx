import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  KeyboardSensor,
  MeasuringStrategy,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, type WeekView as Week } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { useChange } from "../../kept/use-change";
import { planDay } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { type PeopleShown, WeekBoard } from "./board";
import { CalendarAddress } from "./calendar-address";
import { byTheKeys, type Load, loadOf, type Place, placeOf, takes, underTheHand } from "./drag";
import { Giving } from "./giving";
import { Leaving } from "./leaving";
import { MonthStrip } from "./month-strip";
import styles from "./week.module.css";

const measuring = { droppable: { strategy: MeasuringStrategy.Always } };

/** The weeks to come: stops, due work, minutes against the day's limit, what slid and why; drag to move. */
export function WeekView() {
  const { t } = useTranslation();
  const me = useMe();
  const [n, setN] = useState(1);
  const [page, setPage] = useState(1);
  const [whose, setWhose] = useState("");
  const week = api.useQuery(
    "get",
    "/api/v1/week",
    { params: { query: whose ? { week: n, whose } : { week: n, page } } },
    { placeholderData: (old) => old },
  );
  return (
    <Page
      title={t("week.title")}
      acts={
        <>
          <Button type="link" href="/api/v1/due.csv" download>
            {t("week.file")}
          </Button>
          <Button className="no-print" onClick={() => window.print()}>
            {t("lap.print")}
          </Button>
        </>
      }
    >
      {week.isError && !week.data && <Trouble error={week.error} onRetry={() => week.refetch()} />}
      {week.isPending && <Loading />}
      {week.data && (
        <Desk
          week={week.data}
          desk={me.role !== "technician"}
          onWeek={setN}
          people={{ page, onPage: setPage, whose, onWhose: setWhose }}
        />
      )}
    </Page>
  );
}

/** A move that was made, and how it was before. */
interface Done {
  says: string;
  undo: () => void;
}

function Desk({
  week,
  desk,
  onWeek,
  people,
}: {
  week: Week;
  desk: boolean;
  onWeek: (n: number) => void;
  people: PeopleShown;
}) {
  const { t } = useTranslation();
  const [done, setDone] = useState<Done | null>(null);
  const [held, setHeld] = useState<Load | null>(null);
  const [leaver, setLeaver] = useState("");
  const [given, setGiven] = useState<Load | null>(null);
  const drivers = api.useQuery("get", "/api/v1/drivers").data ?? [];
  const visit = useChange("move");
  const mark = useChange("mark");
  const refused = visit.refused || mark.refused;
  const reset = () => {
    visit.reset();
    mark.reset();
  };
  const moveStop = ({ stop }: Load, date: string, technician: string, then: () => void) => {
    const back = date === stop.on && technician === stop.usual;
    const body = {
      id: uuid(),
      on: stop.on,
      to: back ? "" : date,
      technician: back || technician === stop.usual ? undefined : technician,
    };
    visit.make(stop.poolId, stop.street, body, then);
  };
  const moveWork = ({ stop, due }: Load, date: string | null, then: () => void) => {
    const act = date ? { act: "plan" as const, day: date } : { act: "resume" as const };
    mark.make(stop.poolId, stop.street, { id: uuid(), item: due?.item ?? "", reason: "", ...act }, then);
  };
  const drop = (load: Load, place: Place) => {
    reset();
    const to = planDay(place.date);
    if (load.due) {
      const before = load.due.planned ? load.date : null;
      const says = t("week.workMoved", { street: load.stop.street, name: load.due.name, to });
      moveWork(load, place.date, () => setDone({ says, undo: () => moveWork(load, before, () => setDone(null)) }));
      return;
    }
    const whose = place.technicianId ?? load.technicianId;
    const name = drivers.find((p) => p.id === whose)?.name ?? "";
    const says = t("week.stopMoved", { street: load.stop.street, to, who: name });
    moveStop(load, place.date, whose, () =>
      setDone({ says, undo: () => moveStop(load, load.date, load.technicianId, () => setDone(null)) }),
    );
  };
  const end = ({ active, over }: DragEndEvent) => {
    setHeld(null);
    const load = loadOf(active);
    const place = placeOf(over);
    if (load && place && takes(load, place)) drop(load, place);
  };
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: byTheKeys }),
  );
  const named = (load?: Load) => (load?.due ? `${load.stop.street}, ${load.due.name}` : (load?.stop.street ?? ""));
  const put = (place?: Place) => (place ? planDay(place.date) : "");
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={underTheHand}
      // Measured before anything is lifted: an arrow key pressed at once finds its day.
      measuring={measuring}
      onDragStart={({ active }) => setHeld(loadOf(active) ?? null)}
      onDragCancel={() => setHeld(null)}
      onDragEnd={end}
      accessibility={{
        screenReaderInstructions: { draggable: t("week.howToDrag") },
        announcements: {
          onDragStart: ({ active }) => t("week.lifted", { what: named(loadOf(active)) }),
          onDragOver: ({ over }) => (over ? t("week.over", { where: put(placeOf(over)) }) : undefined),
          onDragEnd: ({ active, over }) =>
            over ? t("week.dropped", { what: named(loadOf(active)), where: put(placeOf(over)) }) : t("week.letGo"),
          onDragCancel: () => t("week.letGo"),
        },
      }}
    >
      <div className={styles.week}>
        <MonthStrip week={week} onWeek={onWeek} />
        {done && !refused && (
          <p className={`state-line ${styles.moved}`} role="status">
            <StateMark mark="fine" />
            <span>{done.says}</span>
            <Button size="small" id="undo-move" onClick={done.undo}>
              {t("week.undo")}
            </Button>
          </p>
        )}
        {refused && (
          <p className={`state-line ${styles.moved}`} role="alert">
            <StateMark mark="act" />
            <span>{refused}</span>
            <Button size="small" onClick={reset}>
              {t("week.dismiss")}
            </Button>
          </p>
        )}
        {leaver && <Leaving id={leaver} people={drivers} onEnd={() => setLeaver("")} />}
        {given && (
          <Giving
            key={given.stop.poolId + given.date}
            load={given}
            people={drivers}
            onGive={drop}
            onEnd={() => setGiven(null)}
          />
        )}
        <WeekBoard
          week={week}
          desk={desk}
          drivers={drivers}
          people={people}
          onLeave={setLeaver}
          onMove={drop}
          onGive={setGiven}
        />
        {week.later.length > 0 && (
          <section aria-labelledby="later-head">
            <h2 id="later-head">{t("week.later")}</h2>
            <ul className="marks">
              {week.later.map((l) => (
                <li key={l.poolId + l.due.item}>
                  <StateMark mark="hold" /> <Link to={`/pools/${l.poolId}/due`}>{l.street}</Link>: {l.due.name}
                  {l.due.hold && <span className="quiet"> {l.due.hold.why}</span>}
                </li>
              ))}
            </ul>
          </section>
        )}
        <CalendarAddress />
      </div>
      <DragOverlay dropAnimation={null}>{held && <div className={styles["drag-chip"]}>{named(held)}</div>}</DragOverlay>
    </DndContext>
  );
}
