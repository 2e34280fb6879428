import { closeSync, fstatSync, fsync, openSync, readSync } from 'node:fs';
import { promisify } from 'node:util';

/** Bytes before the first page of a journal, and before each page; where the head says the size of a page, and its salts. */
const HEAD = 32;
const BEFORE_A_PAGE = 24;
const PAGE_SIZE_AT = 8;
const SALTS_AT = 16;
/** Where each page repeats the salts of its journal. */
const PAGE_SALTS_AT = 8;
const SALTS = 8;

/**
 * The journal (write-ahead log) of a file of SQLite, as sqlite.org/fileformat2.html describes it. It is looked at in its
 * own file, on which SQLite keeps no locks. On the database’s it does, and they would be dropped for the whole process
 * where another handle of it is closed (sqlite.org/howtocorrupt.html): that is kept until all connections are.
 */
export class Journal {
  private handle: number | null = null;
  private file: number | null = null;

  constructor(private readonly database: string) {}

  /**
   * How many bytes of it are in use, be its file as long as it may: pages of an earlier beginning stand behind those of
   * this one, with other salts. 0 where it cannot be looked at; what is committed is committed all the same.
   */
  length(): number {
    try {
      this.handle ??= openSync(`${this.database}-wal`, 'r');
      const head = this.read(0, HEAD);
      const page = head.readUInt32BE(PAGE_SIZE_AT) + BEFORE_A_PAGE;
      const salts = head.subarray(SALTS_AT, SALTS_AT + SALTS);
      const mine = (n: number): boolean => this.read(HEAD + n * page + PAGE_SALTS_AT, SALTS).equals(salts);
      let used = 0;
      let most = Math.floor((fstatSync(this.handle).size - HEAD) / page);
      while (used < most) {
        const half = Math.ceil((used + most) / 2);
        if (mine(half - 1)) used = half;
        else most = half - 1;
      }
      return used * page;
    } catch {
      return 0;
    }
  }

  /** Puts on disk what was brought into the database's file, beside whoever writes. */
  async settle(): Promise<void> {
    this.file ??= openSync(this.database, 'r');
    await promisify(fsync)(this.file);
  }

  /** Only once every connection of this process is closed: see above. */
  close(): void {
    for (const handle of [this.handle, this.file]) if (handle !== null) closeSync(handle);
    this.handle = this.file = null;
  }

  /** @throws where there are fewer bytes. */
  private read(at: number, length: number): Buffer {
    const bytes = Buffer.alloc(length);
    if (readSync(this.handle ?? -1, bytes, 0, length, at) < length) throw new RangeError('the journal ends before');
    return bytes;
  }
}
