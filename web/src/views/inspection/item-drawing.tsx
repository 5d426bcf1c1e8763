import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { measured } from "../../parts/format";
import styles from "./inspection.module.css";

/** What a drawing needs to know of the pad: diameters of straight pipe asked for. */
interface Asked {
  straight: number;
}

const pipe = (d: string) => <path d={d} className={styles["insp-pipe"]} />;
const ink = (d: string) => <path d={d} className={styles["insp-measure"]} />;
const words = (x: number, y: number, text: string) => (
  <text x={x} y={y} textAnchor="middle">
    {text}
  </text>
);
const arrow = (x: number, y: number) => ink(`M${x - 26} ${y}H${x}M${x - 8} ${y - 6}L${x} ${y}L${x - 8} ${y + 6}`);
const right = (x: number, y: number) => ink(`M${x - 9} ${y}l6 7l12 -15`);
const wrong = (x: number, y: number) => ink(`M${x - 8} ${y - 8}l16 16M${x + 8} ${y - 8}l-16 16`);
const pump = (x: number, y: number) => (
  <>
    <circle cx={x} cy={y} r="24" className={styles["insp-body"]} />
    <path d={`M${x} ${y - 24}V${y - 34}h14`} className={styles["insp-body"]} />
  </>
);

/** Our own picture of what is looked at, for the things that words alone leave open. */
const drawings: Record<string, (asked: Asked) => ReactNode> = {
  "straight-run": ({ straight }) => (
    <>
      {pipe("M40 84V46a10 10 0 0 1 10-10H250")}
      {pump(276, 36)}
      {ink("M52 64H248M52 58v12M248 58v12")}
      {words(150, 84, `${straight} × ⌀`)}
    </>
  ),
  "switch-before": () => (
    <>
      {pipe("M40 84V46a10 10 0 0 1 10-10H304")}
      <rect x="186" y="10" width="20" height="16" className={styles["insp-body"]} />
      <path d="M196 26v18" className={styles["insp-body"]} />
      {ink("M52 64H192M52 58v12M192 58v12M200 64H256M200 58v12M256 58v12")}
      {words(122, 84, "10 × ⌀")}
      {words(228, 84, "4 × ⌀")}
    </>
  ),
  "switch-arrow": () => (
    <>
      {pipe("M20 50H300")}
      <rect x="140" y="12" width="40" height="24" className={styles["insp-body"]} />
      <path d="M160 36l12 22" className={styles["insp-body"]} />
      {arrow(174, 24)}
      {arrow(90, 82)}
      {right(250, 82)}
    </>
  ),
  "elbow-in-port": () => (
    <>
      {pipe("M20 40H92")}
      {pump(114, 40)}
      {right(52, 76)}
      {pipe("M216 92V50a10 10 0 0 1 10-10H252")}
      {pump(274, 40)}
      {wrong(190, 76)}
    </>
  ),
  supports: () => (
    <>
      {pipe("M20 30H140")}
      {ink("M40 38V84M120 38V84M28 84H132")}
      {right(80, 66)}
      {pipe("M180 26Q240 62 300 26")}
      {wrong(240, 78)}
    </>
  ),
  "check-valve": () => (
    <>
      {pipe("M20 46H300")}
      <rect x="28" y="22" width="64" height="48" className={styles["insp-body"]} />
      <path d="M138 30h44v32h-44zM146 54l28 -16" className={styles["insp-body"]} />
      <rect x="228" y="30" width="64" height="32" className={styles["insp-body"]} />
      {arrow(128, 84)}
      <path
        d="M48 58q-6 -6 0 -12t0 -12M60 58q-6 -6 0 -12t0 -12M72 58q-6 -6 0 -12t0 -12"
        className={styles["insp-measure"]}
      />
      {ink("M242 36v20M254 36v20M266 36v20M278 36v20")}
    </>
  ),
  "two-suctions": () => (
    <>
      {pipe("M70 40V70a10 10 0 0 0 10 10H240a10 10 0 0 0 10-10V40M160 80V92")}
      <path d="M44 40a26 18 0 0 1 52 0zM224 40a26 18 0 0 1 52 0z" className={styles["insp-body"]} />
      {ink("M70 12H250M70 6v12M250 6v12")}
      {words(160, 32, `≥ ${measured(3, "ft")}`)}
    </>
  ),
};

/** A picture of an item, where one helps. */
export function ItemDrawing({ item, ...asked }: { item: string } & Asked) {
  const { t } = useTranslation();
  const draw = drawings[item];
  if (!draw) return null;
  return (
    <figure className={styles["insp-drawing"]}>
      <svg viewBox="0 0 320 96" role="img" aria-label={t(`inspection.drawings.${item}`)}>
        {draw(asked)}
      </svg>
    </figure>
  );
}
