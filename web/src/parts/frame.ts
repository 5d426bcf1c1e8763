import type { Me } from "../api/client";

/** What every view gets: who is here, and the way out. */
export interface FrameProps {
  me: Me;
  onSignOut: () => void;
}
