import { useTranslation } from "react-i18next";

/** A picture of what is measured, where one helps: the straight pipe before the pump, and
 *  the runs before and after the flow switch. */
export function RunDrawing({ item, straight }: { item: string; straight: number }) {
  const { t } = useTranslation();
  if (item !== "straight-run" && item !== "switch-before") return null;
  const pump = item === "straight-run";
  return (
    <figure className="insp-drawing">
      <svg viewBox="0 0 320 92" role="img" aria-label={t(pump ? "inspection.runDrawing" : "inspection.switchDrawing")}>
        <path d="M40 84V46a10 10 0 0 1 10-10H250" className="insp-pipe" />
        {pump ? (
          <>
            <circle cx="276" cy="36" r="26" className="insp-body" />
            <path d="M276 10V0h16" className="insp-body" />
            <path d="M52 64H248M52 58v12M248 58v12" className="insp-measure" />
            <text x="150" y="84" textAnchor="middle">
              {straight} × ⌀
            </text>
          </>
        ) : (
          <>
            <path d="M250 36h54" className="insp-pipe" />
            <rect x="186" y="10" width="20" height="16" className="insp-body" />
            <path d="M196 26v18" className="insp-body" />
            <path d="M52 64H192M52 58v12M192 58v12M200 64H256M200 58v12M256 58v12" className="insp-measure" />
            <text x="122" y="84" textAnchor="middle">
              10 × ⌀
            </text>
            <text x="228" y="84" textAnchor="middle">
              4 × ⌀
            </text>
          </>
        )}
      </svg>
    </figure>
  );
}
