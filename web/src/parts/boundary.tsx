import { Component, type ReactNode } from "react";
import { v7 as uuid } from "uuid";
import { http } from "../api/client";
import { Broke, Trouble } from "./quiet-states";

/** What a browser says when a part of the page did not come over a weak line. */
const notLoaded =
  /dynamically imported module|importing a module script|loading (css )?chunk|failed to fetch|load failed/i;

/** Catches what a page could not draw: a part that did not come is a weak line, anything else is ours, said so and
 * sent to the server's log with an id. Drafts are safe: they are kept apart. */
export class Boundary extends Component<{ children: ReactNode }, { error?: Error; id: string }> {
  state: { error?: Error; id: string } = { id: "" };

  static getDerivedStateFromError(error: Error) {
    return { error, id: uuid() };
  }

  componentDidCatch(error: Error) {
    if (notLoaded.test(error.message)) return;
    const { id } = this.state;
    const body = { id, page: location.pathname, message: error.message, stack: error.stack ?? "" };
    http
      .POST("/api/v1/page-errors", {
        body: { ...body, message: body.message.slice(0, 500), stack: body.stack.slice(0, 4000) },
      })
      .catch(() => {}); // without a line the reader's copy has it
  }

  render() {
    const { error, id } = this.state;
    if (!error) return this.props.children;
    if (notLoaded.test(error.message)) return <Trouble error={undefined} onRetry={() => location.reload()} />;
    return <Broke error={error} id={id} />;
  }
}
