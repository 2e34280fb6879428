import { seeded } from '../random/seeded.js';

/**
 * Makes up numbers as people, spreadsheets and other countries write them, by the thousand: what `npm run phones` and the
 * spec compare {@link parsePhone} with the common library's reference on. The same seed makes the same numbers.
 */
export interface Written {
  raw: string;
  region: string;
  /** Which habit of writing it shows. */
  habit: string;
}

/** Regions with their calling code, international prefix, trunk prefix and usual lengths of the rest. */
const ABROAD: readonly [region: string, code: string, abroad: string, trunk: string, lengths: readonly number[]][] = [
  ['GB', '44', '00', '0', [10, 9]],
  ['DE', '49', '00', '0', [10, 11, 9]],
  ['FR', '33', '00', '0', [9]],
  ['ES', '34', '00', '', [9]],
  ['IT', '39', '00', '', [9, 10]],
  ['AU', '61', '0011', '0', [9]],
  ['MX', '52', '00', '', [10]],
  ['BR', '55', '00', '0', [10, 11]],
  ['IN', '91', '00', '0', [10]],
  ['NO', '47', '00', '', [8]],
  ['JP', '81', '010', '0', [9, 10]],
  ['AR', '54', '00', '0', [10, 11]],
];

export function* writtenNumbers(seed: number, count: number): Generator<Written> {
  const random = seeded(seed);
  const int = (n: number): number => Math.floor(random() * n);
  const pick = <T>(list: readonly T[]): T => list[int(list.length)] as T;
  const digits = (n: number): string => Array.from({ length: n }, () => String(int(10))).join('');
  const nanp = (): string =>
    random() < 0.85
      ? `${pick(['201', '212', '416', '617', '808', '907', '787', '800', '888', '900', '710', '500', '211', '340', '876'])}${2 + int(8)}${digits(6)}`
      : digits(pick([7, 9, 10, 10, 11]));
  const group = (d: string): string =>
    pick([
      d,
      `${d.slice(0, 3)}-${d.slice(3, 6)}-${d.slice(6)}`,
      `(${d.slice(0, 3)}) ${d.slice(3, 6)}-${d.slice(6)}`,
      `${d.slice(0, 3)}.${d.slice(3, 6)}.${d.slice(6)}`,
      `${d.slice(0, 3)} ${d.slice(3, 6)} ${d.slice(6)}`,
      `${d.slice(0, 3)}/${d.slice(3, 6)}-${d.slice(6)}`,
      `[${d.slice(0, 3)}] ${d.slice(3)}`,
      `${d.slice(0, 3)}–${d.slice(3, 6)}–${d.slice(6)}`,
    ]);
  const us = (): string =>
    `${pick(['', '', '1', '1-', '1 ', '+1', '+1 ', '+1-', '(1) ', '(+1) ', '+(1) ', '001', '001 '])}${group(nanp())}`;
  const extension = (): string =>
    `${pick([' ext ', ' ext. ', ' ext', 'ext', ' x', 'x', ' X ', ' extension ', ' extn ', ' extn. ', '#', ' # ', ';ext=', ', ext ', ',', ',,', ' int ', ' ~', ' anexo ', ' xtn ', ' - ext: ', '; ', ' доб ', ' e', ' exten '])}${digits(1 + int(6))}${pick(['', '', '', '#'])}`;
  const letters = (): string =>
    Array.from({ length: pick([1, 2, 3, 4, 7]) }, () => String.fromCharCode(65 + int(26))).join('');
  const foreign = (): [string, string] => {
    const [region, code, abroad, trunk, lengths] = pick(ABROAD);
    const rest = digits(pick(lengths));
    const grouped = pick([
      rest,
      rest.replace(/(..)/g, '$1 ').trim(),
      `${rest.slice(0, 3)} ${rest.slice(3, 6)} ${rest.slice(6)}`,
      `${rest.slice(0, 2)}-${rest.slice(2)}`,
    ]);
    return [
      region,
      pick([
        `+${code} ${grouped}`,
        `+${code}(${trunk})${grouped}`,
        `${trunk}${grouped}`,
        `(${trunk}${rest.slice(0, 2)}) ${rest.slice(2)}`,
        `${abroad}${code}${rest}`,
        `+${code}${trunk}${rest}`,
        `${abroad} 1 ${nanp()}`,
        `011${code}${rest}`,
        `011 ${code} ${grouped}`,
      ]),
    ];
  };
  const habits: readonly [string, () => [string, string]][] = [
    ['plain', () => [us(), 'US']],
    ['extension', () => [us() + extension(), 'US']],
    [
      'letters',
      () => [
        pick([
          `1-800-${letters()}${digits(int(5))}`,
          `${nanp().slice(0, 6)}${letters()}`,
          `+1 888 ${letters()}`,
          `${us()} ${letters()}`,
          `${letters()} ${us()}`,
        ]),
        'US',
      ],
    ],
    [
      'label',
      () => [
        `${pick(['Phone: ', 'Tel. ', 'tel:', 'mobile ', 'T ', 'Cell:', 'Ph#', 'No. ', '#', 'call ', 'm) ', 'Fax / ', 'Cell 2: '])}${us()}${pick(['', '', ' (home)', ' cell', '.', ';', ' -'])}`,
        'US',
      ],
    ],
    [
      'spreadsheet',
      () => [
        pick([
          (d: string) => `"${d}"`,
          (d: string) => `""${d}""`,
          (d: string) => `="${d}"`,
          (d: string) => `'${d}`,
          (d: string) => `${d}.0`,
          (d: string) => `\u202a${d}\u202c`,
          (d: string) => ` ${d}\t`,
        ])(us()),
        'US',
      ],
    ],
    [
      'other digits',
      () => [us().replace(/\d/g, (c) => String.fromCharCode(pick([0xff10, 0xff10, 0x0660, 0x06f0]) + Number(c))), 'US'],
    ],
    ['abroad from here', () => [foreign()[1], pick(['US', 'CA'])]],
    [
      'abroad at home',
      () => {
        const [region, raw] = foreign();
        return [raw, region];
      },
    ],
    [
      'uri',
      () => [
        pick([
          `tel:+1-${group(nanp())}`,
          `tel:${group(nanp())};phone-context=+1`,
          `tel:+1${nanp()};ext=${digits(3)}`,
          `tel:${nanp()};isub=12`,
          `TEL:${us()}`,
        ]),
        'US',
      ],
    ],
    [
      'noise',
      () => [
        Array.from({ length: 5 + int(14) }, () =>
          pick([...'0123456789', '0', '1', '2', '5', ' ', '-', '(', ')', '.', '+', 'x', '/', '#', '*', 'a']),
        ).join(''),
        pick(['US', 'GB', 'CA']),
      ],
    ],
  ];
  for (let i = 0; i < count; i++) {
    const [habit, write] = pick(habits);
    const [raw, region] = write();
    yield { raw, region, habit };
  }
}
