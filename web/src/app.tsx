import { useQueryClient } from "@tanstack/react-query";
import { type ComponentType, lazy, Suspense, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, Route, Routes, useLocation } from "react-router";
import { api } from "./api/client";
import { Page } from "./frame/page";
import { Shell } from "./frame/shell";
import { useHeading } from "./frame/use-heading";
import { browsers, useLanguage } from "./i18n";
import { setClock, setCurrency, setUnits } from "./parts/format";
import { Loading, Trouble } from "./parts/quiet-states";
import { setShade } from "./theme/use-theme";
import { BenchView } from "./views/bench/bench-view";
import { LapView, TodayView } from "./views/lap/lap-view";

type Load = () => Promise<{ default: ComponentType }>;

/** How long until a view that did not come is asked for again. */
const askAgain = 3000;

/** Asks for a view until it comes: a line may be gone for a while. */
const untilItComes = (load: Load): ReturnType<Load> =>
  load().catch(() => new Promise((later) => setTimeout(later, askAgain)).then(() => untilItComes(load)));

/** Views that come when they are first opened, and otherwise while nothing else is asked of the line. */
const ahead: Load[] = [];
function view(load: Load) {
  ahead.push(load);
  return lazy(() => untilItComes(load));
}

const AboutView = view(() => import("./views/about/about-view").then((m) => ({ default: m.AboutView })));
const CatalogueView = view(() =>
  import("./views/catalogue/catalogue-view").then((m) => ({ default: m.CatalogueView })),
);
const CleanLineView = view(() =>
  import("./views/clean-line/clean-line-view").then((m) => ({ default: m.CleanLineView })),
);
const CleaningView = view(() => import("./views/cleaning/cleaning-view").then((m) => ({ default: m.CleaningView })));
const DueView = view(() => import("./views/due/due-view").then((m) => ({ default: m.DueView })));
const InspectionView = view(() =>
  import("./views/inspection/inspection-view").then((m) => ({ default: m.InspectionView })),
);
const InspectionsView = view(() =>
  import("./views/inspection/inspections-view").then((m) => ({ default: m.InspectionsView })),
);
const LimitsView = view(() => import("./views/limits/limits-view").then((m) => ({ default: m.LimitsView })));
const NewPadView = view(() => import("./views/pad/pad-view").then((m) => ({ default: m.NewPadView })));
const PadView = view(() => import("./views/pad/pad-view").then((m) => ({ default: m.PadView })));
const PapersView = view(() => import("./views/papers/papers-view").then((m) => ({ default: m.PapersView })));
const PartsView = view(() => import("./views/parts/parts-view"));
const PathsView = view(() => import("./views/paths/paths-view").then((m) => ({ default: m.PathsView })));
const PlanView = view(() => import("./views/plan/plan-view").then((m) => ({ default: m.PlanView })));
const PoolView = view(() => import("./views/pool/pool-view").then((m) => ({ default: m.PoolView })));
const VisitView = view(() => import("./views/pool/visit-view").then((m) => ({ default: m.VisitView })));
const PoolsView = view(() => import("./views/pools/pools-view"));
const RunView = view(() => import("./views/run/run-view").then((m) => ({ default: m.RunView })));
const TrackRecordView = view(() =>
  import("./views/track-record/track-record-view").then((m) => ({ default: m.TrackRecordView })),
);
const WeekView = view(() => import("./views/week/week-view").then((m) => ({ default: m.WeekView })));
const PartView = view(() => import("./views/pool/part-view"));
const LabelsView = view(() => import("./views/pools/labels-view"));
const WaitingView = view(() => import("./views/waiting/waiting-view"));
const RunsView = view(() => import("./views/runs/runs-view"));
const AccountView = view(() => import("./views/account/account-view"));

// What no technician opens at a pad is not fetched ahead.
const SignInView = lazy(() => import("./views/signin/sign-in-view"));
const SharedView = lazy(() => import("./views/shared/shared-view"));
const OfficeView = lazy(() => import("./views/office/office-view"));

/** A page opened without a line must already be here: the views are fetched once the first has come. */
function useViewsAhead(): void {
  useEffect(() => {
    const id = setTimeout(() => {
      for (const load of ahead) load().catch(() => undefined);
    }, 1500);
    return () => clearTimeout(id);
  }, []);
}

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

/** The app, or, for whoever comes by a customer's link, their papers alone. */
export function App() {
  const { pathname } = useLocation();
  useHeading(pathname);
  if (!pathname.startsWith("/shared/")) return <Company />;
  return (
    <Suspense fallback={<Loading />}>
      <Routes>
        <Route path="/shared/:secret" element={<SharedView />} />
        <Route path="/shared/:secret/:kind" element={<SharedView />} />
      </Routes>
    </Suspense>
  );
}

function Company() {
  const queries = useQueryClient();
  useViewsAhead();
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
  if (me.isPending) return <Loading />;
  if (me.isError && !me.data) return <Trouble error={me.error} onRetry={() => me.refetch()} />;
  const who = me.data?.me;
  if (!who) {
    return (
      <Suspense fallback={<Loading />}>
        <SignInView demo={me.data?.demo ?? false} onDone={() => queries.resetQueries()} />
      </Suspense>
    );
  }
  return (
    <Shell bare={pathname.startsWith("/runs/")}>
      <Suspense key={viewAt(pathname)} fallback={<Coming />}>
        <Routes>
          <Route path="/" element={<TodayView />} />
          {who.role !== "technician" && <Route path="/days/:id" element={<LapView />} />}
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
          {who.role !== "technician" && <Route path="/office" element={<OfficeView />} />}
          {who.role !== "technician" && <Route path="/office/:room" element={<OfficeView />} />}
          <Route path="*" element={<NotHere />} />
        </Routes>
      </Suspense>
    </Shell>
  );
}
