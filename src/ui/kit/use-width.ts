import { useEffect, useRef, useState } from 'react';

/**
 * How wide a drawing is shown, in pixels: drawn so wide its letters have the page's size on a phone and on a wide screen.
 * @param first before it is known
 */
export function useWidth(first: number): [ref: React.RefObject<SVGSVGElement | null>, width: number] {
  const ref = useRef<SVGSVGElement>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    if (!ref.current) return;
    const watch = new ResizeObserver(([shown]) => {
      if (shown && shown.contentRect.width > 0) setWidth(Math.round(shown.contentRect.width));
    });
    watch.observe(ref.current);
    return () => watch.disconnect();
  }, []);
  return [ref, width];
}

/** Of so many names, which stand where there is room for one in each so many pixels: every nth. */
export const everyNth = (names: number, room: number, each: number): number =>
  Math.ceil(names / Math.max(1, Math.floor(room / each)));
