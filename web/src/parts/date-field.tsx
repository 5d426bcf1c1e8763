import dayjsCalendar from "@rc-component/picker/generate/dayjs";
import { DatePicker as Kit } from "antd";
import dayjs from "dayjs";
import "dayjs/locale/es";
import { useId } from "react";
import { useTranslation } from "react-i18next";
import { today } from "./clock";
import { FieldLine } from "./field-line";
import { monthFirst } from "./format";

/** The kit's calendar on the company's day: it opens on that month, and marks that day as today. */
const DatePicker = Kit.generatePicker({ ...dayjsCalendar, getNow: () => dayjs(today(), "YYYY-MM-DD") });

/** A day as the record writes it, like 2026-11-24; empty: none. */
const dayOf = (text: string) => (text ? dayjs(text, "YYYY-MM-DD") : null);

/** How a day is shown, and how else it may be typed. */
const ways = () => (monthFirst() ? ["MMM D, YYYY", "M/D/YYYY", "YYYY-MM-DD"] : ["D MMM YYYY", "YYYY-MM-DD"]);

/** The calendar in the reader's language. */
function useCalendar(): void {
  const { i18n } = useTranslation();
  dayjs.locale(i18n.language === "es" ? "es" : "en");
}

interface Field {
  id?: string;
  label: string;
  say?: string;
  hint?: string;
}

/** One day, from the calendar or typed; what is typed and is no day stays, and is refused in words. */
export function DateField({
  id,
  label,
  value,
  say,
  hint,
  onChange,
}: Field & { value: string; onChange: (day: string) => void }) {
  useCalendar();
  const made = useId();
  const own = id ?? made;
  return (
    <FieldLine id={own} label={label} say={say} hint={hint}>
      <DatePicker
        id={own}
        value={dayOf(value)}
        format={ways()}
        preserveInvalidOnBlur
        status={say ? "error" : undefined}
        aria-invalid={Boolean(say)}
        aria-describedby={`${own}-says`}
        placeholder=""
        onChange={(day) => onChange(day ? day.format("YYYY-MM-DD") : "")}
      />
    </FieldLine>
  );
}

/** Several days. */
export function DatesField({
  id,
  label,
  value,
  say,
  hint,
  onChange,
}: Field & { value: string[]; onChange: (days: string[]) => void }) {
  useCalendar();
  const made = useId();
  const own = id ?? made;
  return (
    <FieldLine id={own} label={label} say={say} hint={hint}>
      <DatePicker
        id={own}
        multiple
        value={value.map((d) => dayjs(d, "YYYY-MM-DD"))}
        format={ways()[0]}
        status={say ? "error" : undefined}
        aria-invalid={Boolean(say)}
        aria-describedby={`${own}-says`}
        placeholder=""
        onChange={(days) => onChange((days ?? []).map((d) => d.format("YYYY-MM-DD")).sort())}
      />
    </FieldLine>
  );
}
