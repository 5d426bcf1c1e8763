import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { api } from "./api/client";
import { browsers, useLanguage } from "./i18n";
import { setClock, setCurrency, setUnits } from "./parts/format";
import { KeysHelp } from "./parts/keys-help";
import { Loading, Trouble } from "./parts/quiet-states";
import { useTheme } from "./theme/use-theme";
import { AboutView } from "./views/about/about-view";
import { BenchView } from "./views/bench/bench-view";
import { CatalogueView } from "./views/catalogue/catalogue-view";
import { CleanLineView } from "./views/clean-line/clean-line-view";
import { CleaningView } from "./views/cleaning/cleaning-view";
import { DueView } from "./views/due/due-view";
import { InspectionView } from "./views/inspection/inspection-view";
import { InspectionsView } from "./views/inspection/inspections-view";
import { LapView } from "./views/lap/lap-view";
import { LimitsView } from "./views/limits/limits-view";
import { NewPadView, PadView } from "./views/pad/pad-view";
import { PapersView } from "./views/papers/papers-view";
import { PartsView } from "./views/parts/parts-view";
import { PathsView } from "./views/paths/paths-view";
import { PlanView } from "./views/plan/plan-view";
import { PoolView } from "./views/pool/pool-view";
import { VisitView } from "./views/pool/visit-view";
import { PoolsView } from "./views/pools/pools-view";
import { RunView } from "./views/run/run-view";
import { TrackRecordView } from "./views/track-record/track-record-view";
import { WeekView } from "./views/week/week-view";

// Only what no technician opens at a pad is split off: a page opened without a line must
// already be here.
const SignInView = lazy(() => import("./views/signin/sign-in-view"));
const SharedView = lazy(() => import("./views/shared/shared-view"));
const OfficeView = lazy(() => import("./views/office/office-view"));
const AccountView = lazy(() => import("./views/account/account-view"));

/** The app, or, for whoever comes by a customer's link, their papers alone. */
export function App() {
  useTheme();
  const { pathname } = useLocation();
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
  const me = api.useQuery("get", "/api/me");
  const signOut = api.useMutation("post", "/api/sign-out");
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new page starts at its top
  useEffect(() => {
    window.scrollTo(0, 0);
  }, [pathname]);
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
  const frame = { me: who, onSignOut: () => signOut.mutate({}, { onSuccess: () => queries.resetQueries() }) };
  return (
    <>
      <KeysHelp />
      <Suspense fallback={<Loading />}>
        <Routes>
          <Route path="/" element={<LapView {...frame} />} />
          <Route path="/stops/:id" element={<BenchView {...frame} />} />
          <Route path="/pools" element={<PoolsView {...frame} />} />
          <Route path="/parts" element={<PartsView {...frame} />} />
          <Route path="/pools/new" element={<NewPadView {...frame} />} />
          <Route path="/pools/:id" element={<PoolView {...frame} />} />
          <Route path="/pools/:id/pad" element={<PadView {...frame} />} />
          <Route path="/pools/:id/paths" element={<PathsView {...frame} />} />
          <Route path="/pools/:id/clean-line" element={<CleanLineView {...frame} />} />
          <Route path="/pools/:id/due" element={<DueView {...frame} />} />
          <Route path="/pools/:id/limits" element={<LimitsView {...frame} />} />
          <Route path="/track-record" element={<TrackRecordView {...frame} />} />
          <Route path="/week" element={<WeekView {...frame} />} />
          <Route path="/cleaning" element={<CleaningView {...frame} />} />
          <Route path="/catalogue" element={<CatalogueView {...frame} />} />
          <Route path="/runs/:id" element={<RunView {...frame} />} />
          <Route path="/visits/:id" element={<VisitView {...frame} />} />
          <Route path="/pools/:id/plan" element={<PlanView {...frame} />} />
          <Route path="/pools/:id/inspection" element={<InspectionsView {...frame} />} />
          <Route path="/inspections/:id" element={<InspectionView {...frame} />} />
          <Route path="/pools/:id/about" element={<AboutView {...frame} />} />
          <Route path="/pools/:id/papers" element={<PapersView {...frame} />} />
          <Route path="/pools/:id/papers/:kind" element={<PapersView {...frame} />} />
          <Route path="/account" element={<AccountView {...frame} />} />
          {who.role !== "technician" && <Route path="/office" element={<OfficeView {...frame} />} />}
          {who.role !== "technician" && <Route path="/office/:room" element={<OfficeView {...frame} />} />}
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
    </>
  );
}
