/** Hands text to the person as a file to keep. @param name what it may be called; what a name cannot hold is replaced. */
export function saveAsFile(name: string, text: string) {
  const address = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name.replace(/[^\p{L}\p{N} .,_-]+/gu, '_');
  link.click();
  URL.revokeObjectURL(address);
}
