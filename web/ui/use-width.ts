import { useLayoutEffect, useState, type RefObject } from 'react';

/** The inner width of an element in pixels, as it changes. */
export function useWidth(place: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(800);
  useLayoutEffect(() => {
    const element = place.current;
    if (element === null) return undefined;
    const measure = (): void => {
      const style = getComputedStyle(element);
      setWidth(
        element.clientWidth - parseFloat(style.paddingLeft || '0') - parseFloat(style.paddingRight || '0'),
      );
    };
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    measure();
    return () => observer.disconnect();
  }, [place]);
  return width;
}
