import { useShallow } from 'zustand/react/shallow';
import { useDocument } from '../document/document-store';
import { useView } from '../view/view-store';

/**
 * What a function says of the document and the view as they are, again whenever either changes. Where it says the same, part by
 * part, nothing is drawn anew.
 */
export function useNow<T>(read: () => T): T {
  const same = useShallow(read);
  useView(same);
  return useDocument(same);
}
