/**
 * The one clock of the page. What day and time it is, the server says: a device's own clock may be off by months.
 * Nothing else asks the device (a test looks).
 */
let zone = "UTC";
let offset = 0;

/** The company's time zone, and the server's clock against this device's. */
export function setClock(timeZone: string, serverNow: string, readAt: number): void {
  zone = timeZone;
  offset = Date.parse(serverNow) - readAt;
}

/** The company's time zone. */
export const zoneOf = (): string => zone;

/** Now by the server's clock. */
export const now = (): Date => new Date(ticks() + offset);

/** The device's own milliseconds: to tell how long something takes, never what day it is. */
export const ticks = (): number => Date.now();

let days: { zone: string; writer: Intl.DateTimeFormat } | undefined;

/** The company's own day, like 2026-11-24. */
export function today(): string {
  if (days?.zone !== zone) days = { zone, writer: new Intl.DateTimeFormat("en-CA", { timeZone: zone }) };
  return days.writer.format(now());
}
