import { Component, type ReactNode } from "react";
import { Trouble } from "./quiet-states";

/** Catches what a page could not draw (a part that did not come over a weak line) and offers another try. Drafts are safe: they are kept apart. */
export class Boundary extends Component<{ children: ReactNode }, { failed: boolean }> {
  state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  render() {
    if (!this.state.failed) return this.props.children;
    return <Trouble error={undefined} onRetry={() => location.reload()} />;
  }
}
