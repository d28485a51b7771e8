/** Gives a text to the person as a file. */
export const saveText = (text: string, name: string): void =>
  saveBlob(new Blob([text], { type: 'text/plain;charset=utf-8' }), name);

/** Gives bytes to the person as a file. */
export const saveBytes = (bytes: Uint8Array, name: string): void => saveBlob(new Blob([Uint8Array.from(bytes)]), name);

/** Gives a blob to the person as a file. */
export function saveBlob(blob: Blob, name: string): void {
  const address = URL.createObjectURL(blob);
  const link = Object.assign(document.createElement('a'), { href: address, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
