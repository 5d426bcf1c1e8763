import type { ReactNode } from "react";
import styles from "./page.module.css";

/** A page in one column: what it is called, what may be done from there, and what it holds. */
export function Page({ title, acts, children }: { title?: ReactNode; acts?: ReactNode; children: ReactNode }) {
  return (
    <main className={`whole ${styles.page}`} id="page">
      {title && (
        <header className="top">
          <h1>{title}</h1>
          {acts && <div className={styles.acts}>{acts}</div>}
        </header>
      )}
      {children}
    </main>
  );
}
