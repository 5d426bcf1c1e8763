import { Button, type ButtonProps } from "antd";
import type { ReactNode } from "react";
import styles from "./chip.module.css";
import { Tool } from "./glyphs";

export type Answer = "yes" | "no" | "none";

/** Something that is so, is not so, or was not looked at: mark, name and word. */
export function Chip({
  answer,
  name,
  word,
  ...rest
}: { answer: Answer; name: ReactNode; word: ReactNode } & Omit<ButtonProps, "type">) {
  return (
    <Button {...rest} className={`${styles.chip} ${styles[answer]} ${rest.className ?? ""}`}>
      <Tool name={answer} size={22} className={styles.mark} />
      <span className={styles.name}>{name}</span>
      <span className={styles.word}>{word}</span>
    </Button>
  );
}

/** Chips side by side. */
export function Chips({ children }: { children: ReactNode }) {
  return <ul className={styles.chips}>{children}</ul>;
}
