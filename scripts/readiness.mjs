// `npm run readiness`: the readiness check held against what a reviewer decided of the invented dossiers of
// packages/core/testdata (`-- learn` keeps their decisions for the page), and against what the stand-in registrar decides of them and of others made by chance.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { compile, install, root } from './prepare.mjs';

install();
compile();
const at = (file) => import(path.join(root, 'packages', file));
const { decisionsByRisk, dossierOf, measure, parseDossiers, reasonsOf } = await at('core/dist/testing/dossiers.js');
const { madeDossiers } = await at('core/dist/testing/made-dossiers.js');
const { brandReasons } = await at('standins/dist/registrar/brand-check.js');
const { campaignReasons } = await at('standins/dist/registrar/reviewer.js');

const folder = path.join(root, 'packages/core/testdata/dossiers');
const dossiers = readdirSync(folder).flatMap((f) => parseDossiers(readFileSync(path.join(folder, f), 'utf8')));

/** What the stand-in registrar decides of a dossier, as the corpus writes it. */
function decided(j) {
  const { brand, campaigns, nameLine } = dossierOf(j);
  const [campaign] = campaigns;
  const said = [
    ...brandReasons({ country: 'US', ...brand, nameLine }),
    ...campaignReasons({ privacyWords: '', ...campaign, nameLine, legalName: brand.legalName, brandKey: '' }),
  ];
  const reasons = reasonsOf(said.map((r) => r.code));
  return { ...j, reasons, decision: reasons.length === 0 ? 'approved' : 'declined' };
}

if (process.argv.includes('learn')) {
  const file = path.join(root, 'packages/core/src/registration/decisions.data.ts');
  const rows = Object.entries(decisionsByRisk(dossiers)).sort(([a], [b]) => (a < b ? -1 : 1));
  const head = readFileSync(file, 'utf8').split('export const')[0];
  const body = rows
    .map(([risks, { approved, of }]) => `  '${risks}': { approved: ${approved}, of: ${of} },\n`)
    .join('');
  writeFileSync(
    file,
    `${head}export const DECISIONS_BY_RISK: Record<string, { approved: number; of: number } | undefined> = {\n${body}};\n`,
  );
  compile();
}

const pad = (words, n) => String(words).padEnd(n);
const percent = (x) => `${(100 * x).toFixed(1)}%`;
function print(title, m) {
  console.log(`\n${title}\n${pad('reason', 22)}${pad('both', 6)}${pad('missed', 8)}added`);
  for (const { reason, both, missed, added } of m.scores) {
    const which = [...missed.map((x) => `-${x}`), ...added.map((x) => `+${x}`)].slice(0, 6).join(' ');
    console.log(`${pad(reason, 22)}${pad(both, 6)}${pad(missed.length, 8)}${pad(added.length, 6)}${which}`);
  }
  console.log(
    `${m.dossiers} dossiers: recall ${percent(m.recall)}, precision ${percent(m.precision)}, the same decision in ${m.sameDecision}`,
  );
}

print('Against an experienced reviewer, on the corpus', measure(dossiers));
print('Against the registrar, on the same corpus', measure(dossiers.map(decided)));
print('Against the registrar, on 300 dossiers made by chance', measure(madeDossiers(300).map(decided)));
