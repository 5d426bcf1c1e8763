/** Our own drawings: answers, floats of the lane, stations, tools. */
const tools: Record<string, [string, React.ReactNode]> = {
  yes: ["0 0 24 24", <path key="p" d="M4 12.5 10 18.5 20.5 6" strokeWidth="3.2" />],
  no: ["0 0 24 24", <path key="p" d="M5.5 5.5l13 13M18.5 5.5l-13 13" strokeWidth="2.6" />],
  none: ["0 0 24 24", <path key="p" d="M4 12h3M10.5 12h3M17 12h3" strokeWidth="2.6" />],
  gate: ["0 0 20 20", <path key="p" d="M2 3v15M18 3v15M2 6h16M2 15h16M7 6v9M12 6v9" strokeWidth="1.8" />],
  minus: ["0 0 20 20", <path key="p" d="M4 10h12" strokeWidth="2.4" />],
  plus: ["0 0 20 20", <path key="p" d="M4 10h12M10 4v12" strokeWidth="2.4" />],
  right: ["0 0 20 20", <path key="p" d="M7.5 4l6 6-6 6" strokeWidth="2.2" />],
  grip: ["0 0 20 20", <path key="p" d="M3 6h14M3 10h14M3 14h14" strokeWidth="1.8" />],
  up: ["0 0 20 20", <path key="p" d="M4 12.5 10 6.5l6 6" strokeWidth="2.2" />],
  find: ["0 0 24 24", <path key="p" d="M4 10a6.5 6.5 0 1 0 13 0a6.5 6.5 0 1 0 -13 0M15 15l6 6" strokeWidth="2.2" />],
  today: ["0 0 24 24", <path key="p" d="M1 12h5M18 12h5M6 7h7l5 5-5 5H6Z" strokeWidth="2" />],
  week: ["0 0 24 24", <path key="p" d="M3 18v-7M8 18V6M13 18V9M18 18V4M1 21h22" strokeWidth="2.4" />],
  pools: ["0 0 24 24", <path key="p" d="M3 6h18v8q0 5-5 5H8q-5 0-5-5ZM7 12q2.5-2.5 5 0t5 0" strokeWidth="2" />],
  waiting: ["0 0 24 24", <path key="p" d="M12 15V4M7.5 8.5 12 4l4.5 4.5M4 14v6h16v-6" strokeWidth="2" />],
  more: ["0 0 24 24", <path key="p" d="M1 12h3M9.5 12h5M20 12h3M4 9h5.5v6H4ZM14.5 9H20v6h-5.5Z" strokeWidth="2" />],
  desk: ["0 0 24 24", <path key="p" d="M2 9h20M5 9v11M19 9v11M8 5h8v4M12 14h7" strokeWidth="2" />],
  phone: ["0 0 20 20", <path key="p" d="M4 3l4 1 1 4-2 2q1 2 3 3l2-2 4 1 1 4q-8 3-12-4T4 3Z" strokeWidth="1.8" />],
  map: ["0 0 20 20", <path key="p" d="M2 16q5-8 9-5t7-8M4 5h5v4H4Z" strokeWidth="1.8" />],
  picture: ["0 0 20 20", <path key="p" d="M2 4h16v13H2ZM3 15l5-6 4 4 2-2 4 4" strokeWidth="1.8" />],
  down: ["0 0 20 20", <path key="p" d="M4 7.5 10 13.5l6-6" strokeWidth="2.2" />],
  impeller: [
    "0 0 48 48",
    <g key="p">
      <circle cx="24" cy="24" r="21" strokeWidth="2.5" />
      <circle cx="24" cy="24" r="4" fill="currentColor" stroke="none" />
      <path d="M24 20C24 11 31 8 37 10.5M27.5 26c7.5 4.5 6.5 12 1.5 16M20.5 26C13 30.5 7 26 5.8 20" strokeWidth="4" />
    </g>,
  ],
  off: [
    "0 0 48 48",
    <g key="p">
      <path d="M4 32h12M44 32H32M16 32 31 15" strokeWidth="4" />
      <circle cx="16" cy="32" r="3.5" fill="currentColor" />
      <circle cx="32" cy="32" r="3.5" fill="currentColor" />
    </g>,
  ],
  unknown: [
    "0 0 48 48",
    <g key="p">
      <circle cx="24" cy="24" r="20" strokeWidth="3" strokeDasharray="6 5" />
      <path d="M17 19q0-7 7-7t7 6q0 5-7 8v3" strokeWidth="4" />
      <circle cx="24" cy="35" r="2.6" fill="currentColor" stroke="none" />
    </g>,
  ],
};

export function Tool({ name, size = 20, className = "mark" }: { name: string; size?: number; className?: string }) {
  const [viewBox, shape] = tools[name];
  return (
    <svg
      className={className}
      width={size}
      height={size}
      viewBox={viewBox}
      fill="none"
      stroke="currentColor"
      aria-hidden="true"
    >
      {shape}
    </svg>
  );
}

export function Float({ state }: { state: string }) {
  return (
    <svg className="float" width="36" height="20" viewBox="0 0 36 20" aria-hidden="true">
      {state === "done" && (
        <>
          <rect x="5" y="3" width="26" height="14" rx="5" fill="var(--ink)" />
          <path d="M12.5 10l3.7 3.6L23.5 6.5" fill="none" stroke="var(--paper)" strokeWidth="2.2" />
        </>
      )}
      {state === "here" && (
        <>
          <path d="M2 1h23l10 9-10 9H2Z" fill="var(--petrol)" />
          <path d="M9 5v10M15 5v10" stroke="var(--paper)" strokeWidth="2" />
        </>
      )}
      {state === "ahead" && (
        <rect x="6" y="4" width="24" height="12" rx="5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.8" />
      )}
    </svg>
  );
}

/** Stations of the loop; the pipe enters and leaves at y = 26 of 40. */
export const stationPaths: Record<string, string> = {
  suction: "M1 10q3-3 6 0t6 0M13 2v5h16v13H13M13 7v6M13 13l5 5M13 20v8M25 20v6h19M3 35h16M5 35q6-7 12 0M19 35h6v-9",
  basket:
    "M0 26h7M37 26h7M5 12h34M7 12v18q0 6 6 6h18q6 0 6-6V12M10 12q1-8 12-8t12 8M13 17h18l-2.5 13h-13ZM14 21.5h16M15 26h14M19 17l1 13M25 17l-1 13",
  pump: "M0 26h5M22 17V8h7v4M26 20h16v13H24M30 20v13M34 20v13M38 20v13M27 37h12M5 26a10 10 0 1 0 20 0a10 10 0 1 0 -20 0M15 26c0-4 3-6 6-6M15 26c-3.5 2-7 .5-8.5-2M15 26c3.5 2 3.5 5.5 1.5 8",
  filter:
    "M0 26h9M35 26h9M9 36V16c0-6 6-8.5 13-8.5S35 10 35 16v20ZM22 7.5V3M15 3h14M9 23h26M14 28h.1M20 28h.1M26 28h.1M31 28h.1M17 32h.1M23 32h.1M29 32h.1",
  heater: "M0 26h7M37 26h7M7 6h30v30H7ZM7 26l5-9 5 9 5-9 5 9 5-9 5 9M13 31h18",
  cell: "M0 26h5M39 26h5M5 19h4v14H5ZM35 19h4v14h-4ZM9 20h26v12H9M14 23v6M18 23v6M22 23v6M26 23v6M30 23v6M22 20v-6M18 14h8",
  returns: "M0 26h14M14 7v30M14 19q8 0 8 7t-8 7M26 26h15M25.5 21.5l13-5.5M25.5 30.5l13 5.5",
};

export function Brand() {
  return (
    <svg width="44" height="34" viewBox="0 0 44 34" aria-hidden="true">
      <path d="M0 25h44" stroke="var(--ink)" strokeWidth="1.6" />
      <rect x="2" y="20" width="9" height="10" rx="3.5" fill="var(--ink)" />
      <path d="M15 17h9l6 8-6 8h-9Z" fill="var(--petrol)" />
      <rect
        x="33"
        y="20"
        width="9"
        height="10"
        rx="3.5"
        fill="var(--paper-sunk)"
        stroke="var(--ink)"
        strokeWidth="1.6"
      />
    </svg>
  );
}

export const diamond = (x: number, y: number, r = 7) => `M${x} ${y - r}L${x + r} ${y}L${x} ${y + r}L${x - r} ${y}Z`;
