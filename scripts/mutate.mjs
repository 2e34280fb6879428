// `npm run mutate`: changes core's rules in every small way there is (Stryker), and counts how many changes a spec notices.
// `npm run mutate -- hours money` does so for these folders alone.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { compile, install, root, tool } from './prepare.mjs';
import { spawnSync } from 'node:child_process';

const ALL = ['consent', 'gate', 'hours', 'text', 'money', 'porting', 'registration'];
const rooms = process.argv.slice(2).filter((a) => ALL.includes(a));
install();
compile();

// What is compiled is changed, so that nothing has to be compiled again for it.
const dist = 'packages/core/dist';
const of = (folders, what) => folders.map((f) => `${dist}/${f}/${what}`);
mkdirSync(path.join(root, '.stryker'), { recursive: true });
const jasmine = path.join(root, '.stryker', 'jasmine.json');
writeFileSync(
  jasmine,
  JSON.stringify({ spec_dir: '.', spec_files: of(ALL, '**/*.spec.js'), jsLoader: 'import', random: false }),
);
const config = path.join(root, '.stryker', 'stryker.json');
writeFileSync(
  config,
  JSON.stringify({
    mutate: [...of(rooms.length > 0 ? rooms : ALL, '**/*.js'), `!${dist}/**/*.spec.js`, `!${dist}/**/*.data.js`],
    ignorePatterns: ['**', `!${dist}/**`, '!packages/core/package.json', '!package.json', '!.stryker/jasmine.json'],
    testRunner: 'jasmine',
    jasmineConfigFile: '.stryker/jasmine.json',
    plugins: ['@stryker-mutator/jasmine-runner'],
    coverageAnalysis: 'perTest',
    // Texts of messages and tables filled at the start are read by people, not by rules.
    mutator: { excludedMutations: ['StringLiteral'] },
    ignoreStatic: true,
    concurrency: 2,
    timeoutMS: 10_000,
    reporters: ['clear-text', 'progress-append-only', 'json'],
    clearTextReporter: { allowColor: false, logTests: false, reportTests: false, reportMutants: true },
    jsonReporter: { fileName: '.stryker/report.json' },
    thresholds: { high: 90, low: 85, break: rooms.length > 0 ? null : 85 },
    tempDirName: '.stryker/tmp',
    allowConsoleColors: false,
  }),
);
const { status } = spawnSync(tool('stryker'), ['run', config], { cwd: root, stdio: 'inherit' });
process.exit(status ?? 1);
