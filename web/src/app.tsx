import { useQueryClient } from "@tanstack/react-query";
import { Suspense, use, useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, Route, Routes, useLocation } from "react-router";
import { api } from "./api/client";
import { Page } from "./frame/page";
import { Shell } from "./frame/shell";
import { useHeading } from "./frame/use-heading";
import { browsers, useLanguage } from "./i18n";
import { answersAreOf } from "./kept/answers";
import { adopt, opened } from "./kept/store";
import { setClock } from "./parts/clock";
import { setCurrency, setUnits } from "./parts/format";
import { later } from "./parts/later";
import { Loading, Trouble } from "./parts/quiet-states";
import { setShade } from "./theme/use-theme";
import { BenchView } from "./views/bench/bench-view";
import { TodayView } from "./views/lap/today-view";

const AboutView = later<object>(() => import("./views/about/about-view").then((m) => ({ default: m.AboutView })));
const CatalogueView = later<object>(() =>
  import("./views/catalogue/catalogue-view").then((m) => ({ default: m.CatalogueView })),
);
const CleanLineView = later<object>(() =>
  import("./views/clean-line/clean-line-view").then((m) => ({ default: m.CleanLineView })),
);
const CleaningView = later<object>(() =>
  import("./views/cleaning/cleaning-view").then((m) => ({ default: m.CleaningView })),
);
const DueView = later<object>(() => import("./views/due/due-view").then((m) => ({ default: m.DueView })));
const InspectionView = later<object>(() =>
  import("./views/inspection/inspection-view").then((m) => ({ default: m.InspectionView })),
);
const InspectionsView = later<object>(() =>
  import("./views/inspection/inspections-view").then((m) => ({ default: m.InspectionsView })),
);
const LimitsView = later<object>(() => import("./views/limits/limits-view").then((m) => ({ default: m.LimitsView })));
const NewPadView = later<object>(() => import("./views/pad/pad-view").then((m) => ({ default: m.NewPadView })));
const PadView = later<object>(() => import("./views/pad/pad-view").then((m) => ({ default: m.PadView })));
const PapersView = later<object>(() => import("./views/papers/papers-view").then((m) => ({ default: m.PapersView })));
const PartsView = later(() => import("./views/parts/parts-view"));
const PathsView = later<object>(() => import("./views/paths/paths-view").then((m) => ({ default: m.PathsView })));
const PlanView = later<object>(() => import("./views/plan/plan-view").then((m) => ({ default: m.PlanView })));
const PoolView = later<object>(() => import("./views/pool/pool-view").then((m) => ({ default: m.PoolView })));
const VisitView = later<object>(() => import("./views/pool/visit-view").then((m) => ({ default: m.VisitView })));
const PoolsView = later(() => import("./views/pools/pools-view"));
const RunView = later<object>(() => import("./views/run/run-view").then((m) => ({ default: m.RunView })));
const TrackRecordView = later<object>(() =>
  import("./views/track-record/track-record-view").then((m) => ({ default: m.TrackRecordView })),
);
const WeekView = later<object>(() => import("./views/week/week-view").then((m) => ({ default: m.WeekView })));
const PartView = later(() => import("./views/pool/part-view"));
const LabelsView = later(() => import("./views/pools/labels-view"));
const WaitingView = later(() => import("./views/waiting/waiting-view"));
const PracticeView = later(() => import("./views/practice/practice-view"));
const CaseView = later(() => import("./views/practice/case-view"));
const PracticePeopleView = later(() => import("./views/practice/people-view"));
const RunsView = later(() => import("./views/runs/runs-view"));
const AccountView = later(() => import("./views/account/account-view"));
const SetupView = later(() => import("./views/signin/setup-view"));
const SignInView = later(() => import("./views/signin/sign-in-view"));
const InvitedView = later(() => import("./views/signin/invited-view"));
const SharedView = later(() => import("./views/shared/shared-view"));
const OfficeView = later(() => import("./views/office/office-view"));
const ImportView = later(() => import("./views/import/import-view"));
const DayView = later(() => import("./views/lap/day-view"));

/** Which view an address opens: another pool's is the same. */
const viewAt = (path: string) => {
  const [first, second, third] = path.slice(1).split("/");
  return [first, second && (second === "new" ? "new" : ":"), first === "pools" ? third : ""].filter(Boolean).join("/");
};

/** How long a view may take before its reader is told that the line is gone. */
const patience = 1200;

/** An address that opens nothing: said, with a way on. */
function NotHere() {
  const { t } = useTranslation();
  return (
    <Page title={t("notHere.title")}>
      <p className="quiet-state" id="not-here">
        {t("notHere.what")} <Link to="/">{t("notHere.on")}</Link>
      </p>
    </Page>
  );
}

/** What stands where a view is still to come. */
function Coming() {
  const { t } = useTranslation();
  const [late, setLate] = useState(false);
  useEffect(() => {
    const id = setTimeout(() => setLate(true), patience);
    return () => clearTimeout(id);
  }, []);
  return (
    <Page>
      <h1 className="sr" data-waits>
        {t("brand")}
      </h1>
      {late ? <Trouble error={undefined} onRetry={() => location.reload()} /> : <Loading />}
    </Page>
  );
}

/** The app, or, for whoever comes by a link, what it is for alone. */
export function App() {
  const { pathname } = useLocation();
  useHeading(pathname);
  if (!pathname.startsWith("/shared/") && !pathname.startsWith("/invited/")) return <Company />;
  return (
    <Suspense fallback={<Loading />}>
      <Routes>
        <Route path="/shared/:secret" element={<SharedView />} />
        <Route path="/invited/:secret" element={<InvitedView />} />
        <Route path="/shared/:secret/:kind" element={<SharedView />} />
      </Routes>
    </Suspense>
  );
}

function Company() {
  const queries = useQueryClient();
  use(opened);
  const me = api.useQuery("get", "/api/v1/me");
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new page starts at its top
  useEffect(() => {
    window.scrollTo(0, 0);
  }, [pathname]);
  const shade = me.data?.me?.shade;
  useEffect(() => {
    if (shade !== undefined) setShade(shade);
  }, [shade]);
  useLanguage(me.data && (me.data.me?.lang ?? browsers()));
  if (me.data?.me) {
    setClock(me.data.me.timeZone, me.data.me.now, me.dataUpdatedAt);
    setUnits(me.data.me.units);
    setCurrency(me.data.me.currency);
  }
  const id = me.data?.me?.id;
  useMemo(() => {
    answersAreOf(id ?? "");
    if (id) adopt(id);
  }, [id]);
  if (me.isPending) return <Loading />;
  if (me.isError && !me.data) return <Trouble error={me.error} onRetry={() => me.refetch()} />;
  const who = me.data?.me;
  if (!who) {
    return (
      <Suspense fallback={<Loading />}>
        {me.data?.new ? (
          <SetupView onDone={() => queries.resetQueries()} />
        ) : (
          <SignInView demo={me.data?.demo ?? false} onDone={() => queries.resetQueries()} />
        )}
      </Suspense>
    );
  }
  return (
    <Shell bare={pathname.startsWith("/runs/")}>
      <Suspense key={viewAt(pathname)} fallback={<Coming />}>
        <Routes>
          <Route path="/" element={<TodayView />} />
          {who.role !== "technician" && <Route path="/days/:id" element={<DayView />} />}
          <Route path="/stops/:id" element={<BenchView />} />
          <Route path="/pools" element={<PoolsView />} />
          <Route path="/parts" element={<PartsView />} />
          <Route path="/pools/new" element={<NewPadView />} />
          <Route path="/pools/:id" element={<PoolView />} />
          <Route path="/pools/:id/parts/:part" element={<PartView />} />
          <Route path="/labels" element={<LabelsView />} />
          <Route path="/pools/:id/pad" element={<PadView />} />
          <Route path="/pools/:id/paths" element={<PathsView />} />
          <Route path="/pools/:id/clean-line" element={<CleanLineView />} />
          <Route path="/pools/:id/due" element={<DueView />} />
          <Route path="/pools/:id/limits" element={<LimitsView />} />
          <Route path="/track-record" element={<TrackRecordView />} />
          <Route path="/week" element={<WeekView />} />
          <Route path="/cleaning" element={<CleaningView />} />
          <Route path="/catalogue" element={<CatalogueView />} />
          <Route path="/runs" element={<RunsView />} />
          <Route path="/practice" element={<PracticeView />} />
          {who.role !== "technician" && <Route path="/practice/people" element={<PracticePeopleView />} />}
          <Route path="/practice/:id" element={<CaseView />} />
          <Route path="/waiting" element={<WaitingView />} />
          <Route path="/runs/:id" element={<RunView />} />
          <Route path="/visits/:id" element={<VisitView />} />
          <Route path="/pools/:id/plan" element={<PlanView />} />
          <Route path="/pools/:id/inspection" element={<InspectionsView />} />
          <Route path="/inspections/:id" element={<InspectionView />} />
          <Route path="/pools/:id/about" element={<AboutView />} />
          <Route path="/pools/:id/papers" element={<PapersView />} />
          <Route path="/pools/:id/papers/:kind" element={<PapersView />} />
          <Route path="/account" element={<AccountView />} />
          {who.role !== "technician" && <Route path="/import" element={<ImportView />} />}
          {who.role !== "technician" && <Route path="/import/:id" element={<ImportView />} />}
          {who.role !== "technician" && <Route path="/office" element={<OfficeView />} />}
          {who.role !== "technician" && <Route path="/office/:room" element={<OfficeView />} />}
          <Route path="*" element={<NotHere />} />
        </Routes>
      </Suspense>
    </Shell>
  );
}
