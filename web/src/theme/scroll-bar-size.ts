/**
 * Stands in for the kit's own measure (vite.config.ts), which makes a style without the page's
 * nonce: the content policy would refuse it.
 */
export function getTargetScrollBarSize(target?: HTMLElement): { width: number; height: number } {
  if (!target) return { width: getScrollBarSize(), height: getScrollBarSize() };
  return { width: target.offsetWidth - target.clientWidth, height: target.offsetHeight - target.clientHeight };
}

export default function getScrollBarSize(): number {
  return window.innerWidth - document.documentElement.clientWidth;
}
