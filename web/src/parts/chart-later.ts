import { partLater } from "./later";

/** The chart, whose library comes with the first one shown. */
export const Chart = partLater(() => import("./chart"), 5);
