import { useEffect, useState, type RefObject } from 'react';

/** The size of an element as it changes, in CSS pixels. */
export function useElementSize(element: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const observer = new ResizeObserver(([{ contentRect }]) =>
      setSize({ width: contentRect.width, height: contentRect.height }),
    );
    observer.observe(element.current!);
    return () => observer.disconnect();
  }, [element]);
  return size;
}
