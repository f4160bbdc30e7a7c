import { useLayoutEffect, useRef, useState } from 'react';

/** Width of an element as it is laid out, for drawings that keep their text at its size. */
export function useWidth<T extends HTMLElement>(initial = 900): [React.RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(initial);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return undefined;
    const measure = (): void => setWidth((known) => (element.clientWidth > 0 ? element.clientWidth : known));
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
