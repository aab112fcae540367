/** Share of two regions together that both have, 0 to 1: J of Perazzi et al., CVPR 2016. Of two empty ones all. */
export function shareOfBoth(a: Uint8Array, b: Uint8Array): number {
  let [both, any] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (a[i] && b[i]) both++;
    if (a[i] || b[i]) any++;
  }
  return any === 0 ? 1 : both / any;
}
