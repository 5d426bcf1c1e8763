import type { ComponentProps } from "react";
import type { Choice as AtOnce } from "./choice";
import { partInSight } from "./later";

type Props = ComponentProps<typeof AtOnce<string>>;

/** A list to choose from that no page begins with: its search comes when it is scrolled to. */
export const Choice = partInSight<Props>(() => import("./choice").then((m) => ({ default: m.Choice<string> })), 1);
