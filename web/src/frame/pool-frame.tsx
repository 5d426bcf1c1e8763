import type { ReactNode } from "react";
import { Loading, Trouble } from "../parts/quiet-states";
import { Page } from "./page";
import { PoolPages } from "./pool-pages";

/** A page about one pool: the frame, its name, its pages, and what there is once it is here. */
export function PoolFrame<T>({
  id,
  street,
  query,
  of,
}: {
  id: string;
  street: (data: T) => string;
  query: { data?: T; isError: boolean; error: unknown; refetch: () => unknown };
  of: (data: T) => ReactNode;
}) {
  return (
    <Page>
      {query.data ? (
        <>
          <header className="top">
            <h1>{street(query.data)}</h1>
          </header>
          <PoolPages id={id} />
          {of(query.data)}
        </>
      ) : query.isError ? (
        <Trouble error={query.error} onRetry={() => query.refetch()} />
      ) : (
        <Loading />
      )}
    </Page>
  );
}
