export type Mark = "stop" | "act" | "fine" | "hold" | "open" | "job";

const shapes: Record<Mark, React.ReactNode> = {
  stop: <rect x="2" y="2" width="12" height="12" fill="var(--stop)" />,
  act: <path d="M8 1.5 15 14.5H1Z" fill="var(--act)" />,
  fine: <circle cx="8" cy="8" r="5.5" fill="none" stroke="var(--fine)" strokeWidth="3" />,
  hold: <path d="M4.5 2v12M11.5 2v12" stroke="var(--ink)" strokeWidth="3.5" fill="none" />,
  open: <path d="M13 3H3v10h10" stroke="var(--ink)" strokeWidth="2.5" fill="none" />,
  job: <path d="M2 8h12" stroke="var(--ink)" strokeWidth="2.5" fill="none" />,
};

/** The shape of a state; the word stands beside it, always. */
export function StateMark({ mark, size = 16 }: { mark: string; size?: number }) {
  return (
    <svg className="mark" width={size} height={size} viewBox="0 0 16 16" aria-hidden="true">
      {shapes[mark as Mark] ?? shapes.job}
    </svg>
  );
}
