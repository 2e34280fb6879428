/** SHA-256 in hexadecimal; null where the page was not loaded safely and the browser makes none. */
export async function sha256Of(bytes: BufferSource): Promise<string | null> {
  const subtle = (globalThis.crypto as Partial<Crypto>).subtle;
  if (!subtle) return null;
  const digest = new Uint8Array(await subtle.digest('SHA-256', bytes));
  return Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('');
}
