/** A file of an archive. Its name is ASCII, with `/` between folders. */
export interface ArchiveFile {
  name: string;
  bytes: Uint8Array;
  /** Its {@link crc32} where that is known already; reckoned else. */
  crc?: number;
}

const LOCAL = 0x04034b50;
const CENTRAL = 0x02014b50;
const END = 0x06054b50;
const LOCAL_SIZE = 30;
const CENTRAL_SIZE = 46;
const END_SIZE = 22;
/** Version 2.0, as for a file that lies in a folder; made on Unix, so that the rights below are read as such. */
const NEEDS = 20;
const MADE_BY = (3 << 8) | NEEDS;
/** 1 January 1980, the format's first day: what an archive holds says itself when it was. */
const DATE = (1 << 5) | 1;
/** A plain file that its owner may write and all may read. */
const RIGHTS = 0o100644;
/** The format counts files in two bytes, and bytes in four. */
const MOST_FILES = 0xffff;
const MOST_BYTES = 0xffffffff;

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let bit = 0; bit < 8; bit++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

/** CRC-32 as ZIP and Ethernet have it (ISO 3309). @param before that of what stands before these bytes. */
export function crc32(bytes: Uint8Array, before = 0): number {
  let c = before ^ 0xffffffff;
  for (const b of bytes) c = (CRC_TABLE[(c ^ b) & 0xff] ?? 0) ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

/** Some little-endian numbers, each of so many bytes. */
function packed(fields: readonly (readonly [size: 2 | 4, value: number])[]): Uint8Array {
  const bytes = new Uint8Array(fields.reduce((n, [size]) => n + size, 0));
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (const [size, value] of fields) {
    if (size === 2) view.setUint16(at, value, true);
    else view.setUint32(at, value, true);
    at += size;
  }
  return bytes;
}

/**
 * A ZIP archive (PKWARE APPNOTE 6.3, without its extensions) of these files in this order, stored as they are: of the same
 * files the same bytes, so that whoever reads one can tell that not a byte of it is other than it was written. That is
 * why it is written here and not by a package.
 * @returns the archive in pieces, to be put one after the other.
 * @throws RangeError where it is too large for the format, or a name is not ASCII.
 */
export function writeArchive(files: readonly ArchiveFile[]): Uint8Array[] {
  if (files.length > MOST_FILES) throw new RangeError(`An archive holds at most ${MOST_FILES} files.`);
  const pieces: Uint8Array[] = [];
  const central: Uint8Array[] = [];
  let at = 0;
  for (const { name, bytes, crc } of files) {
    if (!/^[\x21-\x7e]+$/.test(name)) throw new RangeError(`“${name}” is no name for a file of an archive.`);
    const label = Uint8Array.from(name, (c) => c.charCodeAt(0));
    const about = [
      [2, NEEDS],
      [2, 0],
      [2, 0],
      [2, 0],
      [2, DATE],
      [4, crc ?? crc32(bytes)],
      [4, bytes.length],
      [4, bytes.length],
      [2, label.length],
      [2, 0],
    ] as const;
    pieces.push(packed([[4, LOCAL], ...about]), label, bytes);
    central.push(
      packed([[4, CENTRAL], [2, MADE_BY], ...about, [2, 0], [2, 0], [2, 0], [4, (RIGHTS << 16) >>> 0], [4, at]]),
      label,
    );
    at += LOCAL_SIZE + label.length + bytes.length;
    if (at > MOST_BYTES) throw new RangeError('An archive holds at most four gigabytes.');
  }
  const size = central.reduce((n, p) => n + p.length, 0);
  const end = packed([
    [4, END],
    [2, 0],
    [2, 0],
    [2, files.length],
    [2, files.length],
    [4, size],
    [4, at],
    [2, 0],
  ]);
  return [...pieces, ...central, end];
}

/**
 * The files of an archive that {@link writeArchive} wrote; a sentence that says why not, where a single byte of it, also
 * between the files, is other than that would have written it.
 */
export function readArchive(bytes: Uint8Array): ArchiveFile[] | string {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const end = bytes.length - END_SIZE;
  if (end < 0 || view.getUint32(end, true) !== END) return 'It is no whole archive: its end is missing.';
  const count = view.getUint16(end + 10, true);
  const files: ArchiveFile[] = [];
  let at = view.getUint32(end + 16, true);
  for (let i = 0; i < count; i++) {
    if (at + CENTRAL_SIZE > end) return 'Its list of files is cut off.';
    const size = view.getUint32(at + 24, true);
    const length = view.getUint16(at + 28, true);
    const start = view.getUint32(at + 42, true) + LOCAL_SIZE + length;
    if (at + CENTRAL_SIZE + length > end || start + size > end) return 'Its list of files names what is not there.';
    const name = String.fromCharCode(...bytes.subarray(at + CENTRAL_SIZE, at + CENTRAL_SIZE + length));
    files.push({ name, bytes: bytes.subarray(start, start + size) });
    at += CENTRAL_SIZE + length;
  }
  let read = 0;
  try {
    for (const piece of writeArchive(files)) {
      for (const b of piece) if (bytes[read++] !== b) return `Byte ${read} is other than it was written.`;
    }
  } catch (error) {
    return (error as Error).message;
  }
  return read === bytes.length ? files : 'It holds more than its files.';
}
