/** The sight glass as the eye has it: full of dirt, or clear to its far side. */
export function Glass({ state }: { state: string }) {
  if (state !== "dirty" && state !== "clear") return null;
  return (
    <svg
      className="glass"
      viewBox="0 0 68 68"
      width="72"
      height="72"
      aria-hidden="true"
      fill="none"
      stroke="currentColor"
    >
      <circle cx="34" cy="34" r="31" strokeWidth="2.4" />
      <circle cx="34" cy="34" r="24" strokeWidth="1.6" />
      {state === "dirty" ? (
        <>
          <path
            d="M13 26q6-5 12 0t12 0 12 0 7-2M11 36q6-5 12 0t12 0 12 0 10-1M14 46q6-5 12 0t12 0 12 0"
            strokeWidth="1.6"
          />
          <g fill="currentColor" stroke="none">
            {[
              [20, 22],
              [30, 16],
              [40, 24],
              [26, 32],
              [36, 36],
              [46, 34],
              [18, 40],
              [30, 46],
              [42, 46],
              [50, 24],
              [24, 26],
              [44, 18],
              [38, 52],
              [16, 30],
            ].map(([cx, cy]) => (
              <circle key={`${cx}-${cy}`} cx={cx} cy={cy} r="1.9" />
            ))}
          </g>
        </>
      ) : (
        <>
          <path d="M18 34h32M34 18v32M22 22l24 24" strokeWidth="1.2" strokeDasharray="2 4" />
          <path d="M22 27q4-8 12-9" strokeWidth="2.4" />
        </>
      )}
    </svg>
  );
}
