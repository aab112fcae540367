import { useEffect, useState } from 'react';
import { useDocument } from '../document/document-store';
import { PreviewClient } from '../preview/preview-client';
import { followView } from './follow-view';

/** The preview worker and its canvas, alive as long as the crossing's set of shots stays the same. */
export function usePreview() {
  const [current, setCurrent] = useState<PreviewClient | null>(null);
  const [holder, setHolder] = useState<HTMLDivElement | null>(null);
  const shotIds = useDocument((state) => state.shots.map(({ shot }) => shot.id).join());
  useEffect(() => {
    const { document, shots } = useDocument.getState();
    if (!holder || !document) return;
    // A canvas can be handed to a worker once: each worker gets a new one.
    const canvas = window.document.createElement('canvas');
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', 'The picture at the current frame');
    canvas.style.cssText = 'display:block;width:100%;height:100%;image-rendering:inherit';
    holder.replaceChildren(canvas);
    const client = new PreviewClient(canvas.transferControlToOffscreen(), document, shots);
    setCurrent(client);
    return () => client.close();
  }, [holder, shotIds]);

  // Not by rendering: the worker is told of every frame at once, whatever the page is busy with.
  useEffect(() => (current ? followView(current) : undefined), [current]);
  return { current, setHolder };
}
