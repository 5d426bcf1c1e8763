import { Button, type ButtonProps } from "antd";
import { type To, useHref, useLinkClickHandler } from "react-router";

/** A button that opens a page: a link, as far as the browser and a screen reader are told. */
export function GoButton({ to, state, ...rest }: Omit<ButtonProps, "href" | "onClick"> & { to: To; state?: unknown }) {
  const href = useHref(to);
  const go = useLinkClickHandler<HTMLElement>(to, { state });
  return <Button {...rest} href={href} onClick={go as never} />;
}
