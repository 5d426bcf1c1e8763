/** Where an hour of the day lies on the strip. */
export const left = 92;
export const width = 674;
export const whole = 806;
export const x = (hour: number) => left + (hour / 24) * width;

/** Pieces of a span on one day: two where it reaches over midnight. */
export function pieces(from: number, hours: number): [number, number][] {
  const to = from + hours;
  return to <= 24
    ? [[from, to]]
    : [
        [from, 24],
        [0, to - 24],
      ];
}

export const span = (s: { from: number; to: number }) =>
  s.from === s.to ? [] : pieces(s.from, s.to > s.from ? s.to - s.from : 24 - s.from + s.to);
