import type { ComponentProps } from "react";
import type { Choice as AtOnce } from "./choice";
import { partLater } from "./later";

type Props = ComponentProps<typeof AtOnce<string>>;

/** A list to choose from that no page begins with: its search comes when it is first shown. */
export const Choice = partLater<Props>(() => import("./choice").then((m) => ({ default: m.Choice<string> })), 1);
