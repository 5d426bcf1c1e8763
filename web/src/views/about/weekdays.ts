/** The days of a week by name, Sunday first. */
export function weekdays(): string[] {
  const name = new Intl.DateTimeFormat("en-GB", { weekday: "long", timeZone: "UTC" });
  return Array.from({ length: 7 }, (_, i) => name.format(new Date(Date.UTC(2026, 10, 22 + i))));
}
