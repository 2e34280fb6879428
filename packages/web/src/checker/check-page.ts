import { ed25519 } from '@noble/curves/ed25519.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { checkPack, PACK_FILES, readArchive, type CheckTools, type PackVerdict } from '@long-gate/core';

/** Hashing and signatures in script: a page that was opened from a disk has no others in every browser. */
export const TOOLS: CheckTools = {
  sha256: (text) => bytesToHex(sha256(utf8ToBytes(text))),
  digest: (bytes) => bytesToHex(sha256(bytes)),
  verify: (key, message, signature) => {
    try {
      return ed25519.verify(signature, message, key, { zip215: false });
    } catch {
      return false;
    }
  },
};

/** What each question is called. */
const QUESTIONS: Record<PackVerdict['checks'][number]['what'], string> = {
  archive: 'The archive is whole',
  signature: 'It is signed',
  files: 'Nothing in it was changed',
  heads: 'The ledger was signed',
  chain: 'The chain holds',
  events: 'The events are of the chain',
  standing: 'What is said follows from them',
  documents: 'Documents and pages are the ones named',
};

function element<K extends keyof HTMLElementTagNameMap>(
  name: K,
  text = '',
  more: Partial<HTMLElementTagNameMap[K]> = {},
): HTMLElementTagNameMap[K] {
  const made = document.createElement(name);
  made.textContent = text;
  return Object.assign(made, more);
}

/** Shows what was found of a pack in a place of the page; replaces what was shown there. */
export function showVerdict(place: HTMLElement, name: string, verdict: PackVerdict, bytes: Uint8Array): void {
  place.replaceChildren(
    element('h2', verdict.ok ? 'It holds.' : 'It does not hold.', { className: verdict.ok ? 'pass' : 'stop' }),
    element(
      'p',
      verdict.ok
        ? `Nothing in “${name}” was changed since it was signed, and the ledger it shows a part of is unbroken. That no event of these numbers was left out only the whole ledger can show.`
        : `“${name}” is no proof as it is. Ask for it again, and check the new one.`,
    ),
  );
  const list = place.appendChild(element('ol'));
  for (const c of verdict.checks) {
    const item = list.appendChild(element('li', '', { className: c.ok ? 'pass' : 'stop' }));
    item.append(element('strong', `${QUESTIONS[c.what]}: ${c.ok ? 'yes' : 'no'}`), element('span', c.words));
  }
  if (verdict.fingerprint !== '') {
    place.append(
      element('h3', 'Whose signature it is'),
      element(
        'p',
        'This key signed it. Ask the business, by another way than this archive, whether its key has this fingerprint:',
      ),
      element('p', verdict.fingerprint, { className: 'mono' }),
    );
  }
  const { manifest } = verdict;
  if (!verdict.ok || !manifest) return;
  const facts = element('dl');
  for (const [what, value] of [
    ['Business', manifest.business.legalName],
    ['About', manifest.numbers.length > 6 ? `${manifest.numbers.length} numbers` : manifest.numbers.join(', ')],
    ['Made for', manifest.question || 'its own file'],
    ['Made', `${new Date(manifest.madeAt).toISOString().replace('T', ' ').slice(0, 16)} UTC, by ${manifest.madeBy}`],
  ] as const)
    facts.append(element('dt', what), element('dd', value));
  place.append(element('h3', 'What it is'), facts, element('h3', 'What is in it'), filesOf(bytes));
}

/** The files of a pack that holds, each to be saved. */
function filesOf(bytes: Uint8Array): HTMLElement {
  const list = element('ul');
  const files = readArchive(bytes);
  if (typeof files === 'string') return list;
  for (const f of files) {
    if (f.name === PACK_FILES.checker) continue;
    const link = element('a', f.name, { download: f.name.split('/').at(-1) ?? f.name });
    link.href = URL.createObjectURL(new Blob([new Uint8Array(f.bytes)]));
    list.appendChild(element('li')).append(link, ` ${f.bytes.length.toLocaleString('en-US')} bytes`);
  }
  return list;
}

/** Waits for an archive to be chosen or dropped, and checks it. Nothing leaves the page. */
export function begin(): void {
  const input = document.querySelector<HTMLInputElement>('input[type=file]');
  const place = document.querySelector<HTMLElement>('#found');
  if (!input || !place) return;
  const check = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    place.replaceChildren(element('p', 'Checking…'));
    // Drawn before the page is busy.
    await new Promise((drawn) => setTimeout(drawn, 30));
    const bytes = new Uint8Array(await file.arrayBuffer());
    showVerdict(place, file.name, checkPack(bytes, TOOLS), bytes);
  };
  // The same file, written anew meanwhile, can be chosen again.
  input.addEventListener('click', () => (input.value = ''));
  input.addEventListener('change', () => void check(input.files?.[0]));
  document.addEventListener('dragover', (e) => e.preventDefault());
  document.addEventListener('drop', (e) => {
    e.preventDefault();
    void check(e.dataTransfer?.files[0]);
  });
}
