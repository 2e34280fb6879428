import { ed25519 } from '@noble/curves/ed25519.js';
import {
  canonicalEvent,
  checkPack,
  GENESIS,
  linkEvent,
  PACK_FILES,
  PACK_FORMAT,
  writeArchive,
  type ConsentEvent,
} from '@long-gate/core';
import { begin, showVerdict, TOOLS } from './check-page';

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const base64 = (bytes: Uint8Array): string => btoa(String.fromCharCode(...bytes));
const SECRET = new Uint8Array(32).fill(7);
const KEY = ed25519.getPublicKey(SECRET);
/** An Ed25519 public key in PEM begins with these bytes (RFC 8410). */
const DER = Uint8Array.from([0x30, 0x2a, 0x30, 0x05, 0x06, 0x03, 0x2b, 0x65, 0x70, 0x03, 0x21, 0x00, ...KEY]);
const PEM = `-----BEGIN PUBLIC KEY-----\n${base64(DER)}\n-----END PUBLIC KEY-----\n`;

/** A pack about one event, as a server would make it; `written` is put in the place of the events' file afterwards. */
function packOf(written?: (line: string) => string): Uint8Array {
  const event: ConsentEvent = {
    id: 'evt_1',
    businessId: 'biz_1',
    seq: 1,
    e164: '+12015550171',
    purposes: ['informational'],
    kind: 'granted',
    awaitsConfirmation: false,
    happenedAt: 1000,
    recordedAt: 1000,
    how: 'web page',
    disclosure: 'Text me news — ü.',
    disclosureVersion: 'v1',
    evidence: {},
    recordedBy: 'contact',
  };
  const linked = linkEvent(event, GENESIS, TOOLS.sha256);
  const line = `${canonicalEvent(linked).slice(0, -1)},"prevHash":"${linked.prevHash}","hash":"${linked.hash}"}`;
  const head = { chain: 'ledger:biz_1', count: 1, head: linked.hash, at: 2000 };
  const signature = base64(ed25519.sign(utf8(`${head.chain}\n1\n${head.head}\n2000`), SECRET));
  const standing = [{ e164: event.e164, conversational: 'none', informational: 'granted', promotional: 'none' }];
  const files = [
    { name: PACK_FILES.events, bytes: utf8(`${line}\n`) },
    { name: PACK_FILES.standing, bytes: utf8(JSON.stringify(standing)) },
    { name: PACK_FILES.chain, bytes: utf8(`${TOOLS.sha256(canonicalEvent(event))}\n`) },
    { name: PACK_FILES.heads, bytes: utf8(JSON.stringify({ publicKey: PEM, heads: [{ ...head, signature }] })) },
    { name: PACK_FILES.key, bytes: utf8(PEM) },
  ];
  const manifest = utf8(
    JSON.stringify({
      format: PACK_FORMAT,
      version: 1,
      business: { id: 'biz_1', legalName: 'Heron Lane Bakery LLC' },
      numbers: [event.e164],
      question: '',
      madeAt: 3000,
      madeBy: '<b>Wren</b>',
      ledger: { count: 1, head: linked.hash },
      files: files.map((f) => ({ name: f.name, size: f.bytes.length, sha256: TOOLS.digest(f.bytes) })),
    }),
  );
  const [events] = files;
  if (events && written) events.bytes = utf8(written(`${line}\n`));
  const pieces = writeArchive([
    ...files,
    { name: PACK_FILES.manifest, bytes: manifest },
    { name: PACK_FILES.signature, bytes: ed25519.sign(manifest, SECRET) },
  ]);
  return new Uint8Array(pieces.flatMap((p) => [...p]));
}

describe('the page that checks packs', () => {
  let page: HTMLElement;
  beforeEach(() => {
    page = document.body.appendChild(document.createElement('main'));
    page.innerHTML = '<input type="file"><div id="found"></div>';
  });
  afterEach(() => page.remove());
  const found = (): HTMLElement => page.querySelector<HTMLElement>('#found') ?? page;

  it('says of one that holds what it is, with every question answered and the fingerprint to compare', () => {
    const bytes = packOf();
    const verdict = checkPack(bytes, TOOLS);
    showVerdict(found(), 'pack.zip', verdict, bytes);
    expect(verdict.checks.filter((c) => !c.ok)).toEqual([]);
    const text = found().textContent;
    for (const part of ['It holds.', 'Heron Lane Bakery LLC', '+12015550171', verdict.fingerprint])
      expect(text).toContain(part);
    expect(found().querySelectorAll('ol li.pass').length).toBe(8);
    expect(found().querySelector('dl b')).withContext('what somebody wrote is text').toBeNull();
    expect([...found().querySelectorAll('ul a')].map((a) => a.textContent)).toContain(PACK_FILES.events);
  });

  it('says of one that was changed where it fails, and offers nothing of it', () => {
    const bytes = packOf((line) => line.replace('granted', 'revoked'));
    showVerdict(found(), 'pack.zip', checkPack(bytes, TOOLS), bytes);
    expect(found().textContent).toContain('It does not hold.');
    expect(found().querySelector('ol li.stop')?.textContent).toContain('“events.jsonl” was changed');
    expect(found().querySelectorAll('ul, dl').length).toBe(0);
  });

  it('reads what is chosen, and takes no other file for a pack', async () => {
    begin();
    const field = page.querySelector<HTMLInputElement>('input');
    const choose = async (bytes: Uint8Array): Promise<string> => {
      const data = new DataTransfer();
      data.items.add(new File([new Uint8Array(bytes)], 'pack.zip'));
      if (field) field.files = data.files;
      field?.dispatchEvent(new Event('change'));
      for (let i = 0; i < 6_000 && !found().querySelector('h2'); i++) await new Promise((r) => setTimeout(r, 10));
      const said = found().querySelector('h2')?.textContent ?? '';
      found().replaceChildren();
      return said;
    };
    expect(await choose(packOf())).toBe('It holds.');
    expect(await choose(utf8('a text'))).toBe('It does not hold.');
    expect(await choose(new Uint8Array())).toBe('It does not hold.');
  });
});
