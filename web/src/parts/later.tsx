import { type ComponentType, lazy, Suspense, useEffect, useRef, useState } from "react";
import { restOfStyles } from "../theme/rest-of-styles";
import styles from "./later.module.css";
import { Loading } from "./quiet-states";

type Loaded<P> = Promise<{ default: ComponentType<P> }>;
type Load<P> = () => Loaded<P>;

/** How long until a part that did not come is asked for again. */
const askAgain = 3000;

/** Asks for a part and the kit's styles until both come: a line may be gone for a while. */
async function untilItComes<P>(load: Load<P>): Loaded<P> {
  for (;;) {
    try {
      return (await Promise.all([load(), restOfStyles()]))[0];
    } catch {
      await new Promise((again) => setTimeout(again, askAgain));
    }
  }
}

/** A part that comes when it is first shown; what waits for it stands around it. */
export const later = <P extends object>(load: Load<P>) => lazy(() => untilItComes(load));

/** A part of a page that comes when it is first shown, with its place held. */
export function partLater<P extends object>(load: Load<P>, rows: number) {
  const Part = later(load);
  return (props: P) => (
    <Suspense fallback={<Loading rows={rows} />}>
      <Part {...props} />
    </Suspense>
  );
}

/** How far below the screen a part may stand and be asked for: a flick of the thumb. */
const aFlick = "30%";

/** A part that comes when its place is scrolled to; somebody who never gets there does not wait for it. */
export function partInSight<P extends object>(load: Load<P>, rows: number) {
  const Part = partLater(load, rows);
  return (props: P) => {
    const place = useRef<HTMLDivElement>(null);
    const [near, setNear] = useState(false);
    useEffect(() => {
      if (near || !place.current) return;
      const watch = new IntersectionObserver(([at]) => at?.isIntersecting && setNear(true), { rootMargin: aFlick });
      watch.observe(place.current);
      return () => watch.disconnect();
    }, [near]);
    return near ? <Part {...props} /> : <div ref={place} className={styles.place} />;
  };
}

/** What opens over a page, and comes when it first does. */
export function overLater<P extends { open: boolean }>(load: Load<P>) {
  const Over = later(load);
  return (props: P) => {
    const [asked, setAsked] = useState(props.open);
    if (props.open && !asked) setAsked(true);
    return asked ? (
      <Suspense fallback={null}>
        <Over {...props} />
      </Suspense>
    ) : null;
  };
}
