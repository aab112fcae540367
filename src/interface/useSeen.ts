import { type RefObject, useEffect, useRef, useState } from 'react';

/** px before it comes into view at which an element counts as seen. */
const ahead = 120;

/** Whether an element has come into view yet; what it shows may cost something. */
export function useSeen<E extends Element>(): [ref: RefObject<E | null>, seen: boolean] {
  const ref = useRef<E>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const element = ref.current;
    if (!element || seen) return;
    const observer = new IntersectionObserver(
      (entries) => entries.some(({ isIntersecting }) => isIntersecting) && setSeen(true),
      { rootMargin: `${ahead}px` },
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [seen]);
  return [ref, seen];
}
