import { Select } from "antd";
import { useRef } from "react";
import styles from "./choice.module.css";

/** From how many options on a list is searched by letters. */
const searchedFrom = 9;

/** One of a list; a long one is searched. */
export function Choice<T extends string>({
  id,
  value,
  options,
  label,
  wrong,
  onChange,
  ...data
}: {
  id?: string;
  value: T;
  options: { value: T; label: string }[];
  /** What it is called, where no label stands beside it. */
  label?: string;
  wrong?: boolean;
  onChange: (v: T) => void;
  [data: `data-${string}`]: string;
}) {
  const box = useRef<HTMLSpanElement>(null);
  return (
    <span className={styles.choice} ref={box} data-stands={value} {...data}>
      <Select<T>
        id={id}
        value={value}
        options={options}
        optionRender={(o) => <span data-value={o.value}>{o.label}</span>}
        aria-label={label}
        aria-invalid={wrong}
        status={wrong ? "error" : undefined}
        showSearch={options.length < searchedFrom ? false : { optionFilterProp: "label" }}
        popupMatchSelectWidth={false}
        virtual={false}
        classNames={{ popup: { root: styles.list } }}
        // A dialog stands above the page: what it opens must stand in it.
        getPopupContainer={() => box.current?.closest("dialog") ?? document.body}
        onChange={onChange}
      />
    </span>
  );
}
