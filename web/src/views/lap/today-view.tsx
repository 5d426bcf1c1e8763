import { useMe } from "../../frame/me";
import { TourOffer } from "../../frame/tour-offer";
import { partLater } from "../../parts/later";
import { MyLap } from "./lap-view";

const CompanyToday = partLater(() => import("./company-today"), 9);

/** The first page: a technician's own day, or the company's. */
export function TodayView() {
  return (
    <>
      <TourOffer />
      {useMe().role === "technician" ? <MyLap /> : <CompanyToday />}
    </>
  );
}
