import { useDocument } from '../document/document-store';

type EditArguments = Parameters<ReturnType<typeof useDocument.getState>['edit']>;

type OwnEditListener = (changes: EditArguments[1]) => void;

const ownEditListeners = new Set<OwnEditListener>();

/** Hears of what is edited here, by hand or command; not of undo, redo or other windows. */
export function onOwnEdit(listener: OwnEditListener): () => void {
  ownEditListeners.add(listener);
  return () => ownEditListeners.delete(listener);
}

export const edit = (...args: EditArguments) => {
  const done = useDocument.getState().edit(...args);
  if (done) ownEditListeners.forEach((listener) => listener(args[1]));
  return done;
};
