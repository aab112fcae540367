const { port1, port2 } = new MessageChannel();
const waiting: (() => void)[] = [];
port1.onmessage = () => waiting.shift()?.();

/**
 * Lets messages in that wait for this thread: awaiting what is settled already does not. A message to oneself, since a timer
 * of 0 ms is held back for 4 after a few (HTML Standard, timer initialisation steps).
 */
export function letMessagesIn(): Promise<void> {
  return new Promise((done) => {
    waiting.push(done);
    port2.postMessage(null);
  });
}
