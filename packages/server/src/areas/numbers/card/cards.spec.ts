import { PNG } from 'pngjs';
import { Office } from '../../../testing/office.js';
import { lettersOf, monogram } from './monogram.js';

describe('the contact card of a number', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());
  const card = () => o.app.cards.card(o.app.platform.db, o.number);
  const edit = (over: { label?: string; cardName?: string }) =>
    o.app.numbers.edit(o.admin, o.business, o.number, null, { label: '', description: '', ...over });
  const unfolded = async () => (await card()).replace(/\r\n /g, '');

  it('names the business as people know it, folded as RFC 6350 asks', async () => {
    const text = await card();
    expect(text).toContain('BEGIN:VCARD\r\nVERSION:4.0');
    expect(text).toContain(`tel:${o.ours}`);
    expect(text.split('\r\n').every((l) => Buffer.byteLength(l) <= 75)).toBeTrue();
  });

  it('has a name of its own: a label for colleagues never stands on it', async () => {
    await edit({ label: 'old line, do not use' });
    expect(await unfolded()).not.toContain('do not use');
    expect(await unfolded()).toContain('FN:Heron Lane\r\n');
    await edit({ label: 'old line', cardName: 'Heron Lane orders' });
    expect(await unfolded()).toContain('FN:Heron Lane orders\r\n');
    await edit({ label: 'other' });
    expect((await o.app.numbers.get(o.app.platform.db, o.business, o.number)).cardName)
      .withContext('an edit that does not say it leaves it')
      .toBe('Heron Lane orders');
  });

  it('shows a PNG of the first letters, which phones can read, until one has a picture of one’s own', async () => {
    expect(await unfolded()).toContain('PHOTO:data:image/png;base64,');
    const { bytes } = await o.app.cards.picture(o.app.platform.db, o.number);
    const png = PNG.sync.read(bytes);
    expect([png.width, png.height]).toEqual([192, 192]);
    const own = PNG.sync.write(new PNG({ width: 2, height: 2 }));
    await o.app.cards.setPicture(o.admin, o.business, o.number, { name: 'sign.png', bytes: own });
    expect((await o.app.cards.picture(o.app.platform.db, o.number)).bytes).toEqual(own);
    expect(await unfolded()).toContain(own.toString('base64'));
    await o.app.cards.setPicture(o.admin, o.business, o.number, null);
    expect((await o.app.cards.picture(o.app.platform.db, o.number)).bytes).toEqual(bytes);
  });

  it('takes no picture a phone would not show', async () => {
    const set = (bytes: Buffer) => o.app.cards.setPicture(o.admin, o.business, o.number, { name: 'x', bytes });
    await expectAsync(set(Buffer.from('<svg/>'))).toBeRejectedWithError(/no PDF, PNG or JPEG/);
    await expectAsync(set(Buffer.from('%PDF-1.7 x'))).toBeRejectedWithError(/no picture/);
    await expectAsync(set(Buffer.alloc(300 * 1024))).toBeRejectedWithError(/300 kB; phones show at most 200 kB/);
    expect((await o.app.numbers.get(o.app.platform.db, o.business, o.number)).cardPicture).toBeFalse();
  });

  it('is there for active numbers only', async () => {
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    await expectAsync(card()).toBeRejectedWithError(/contact card/);
    await expectAsync(o.app.cards.picture(o.app.platform.db, o.number)).toBeRejectedWithError(/contact card/);
  });
});

describe('the picture of first letters', () => {
  it('takes the first two words that have a letter or digit', () => {
    expect([lettersOf('Saltmarsh Ferries'), lettersOf('“the” & Kiln'), lettersOf('7 seas'), lettersOf('ølga')]).toEqual(
      ['SF', 'TK', '7S', 'Ø'],
    );
  });

  it('draws letters in the middle, light on the colour of the house, and other ones for another name', async () => {
    const { data, width, height } = PNG.sync.read(await monogram('Heron Lane'));
    const light = (x: number, y: number) => (data[(y * width + x) * 4] ?? 0) > 200;
    const columns = Array.from({ length: width }, (_, x) => Array.from({ length: height }, (_, y) => light(x, y)));
    const inked = columns.flatMap((column, x) => (column.includes(true) ? [x] : []));
    const [first = 0, last = 0] = [inked[0], inked.at(-1)];
    expect(inked.length).toBeGreaterThan(20);
    expect(Math.abs(first - (width - 1 - last)))
      .withContext('as far from both sides')
      .toBeLessThan(12);
    expect([...data.subarray(0, 3)]).toEqual([0x0f, 0x5c, 0x63]);
    expect(await monogram('Orrin Kiln')).not.toEqual(await monogram('Heron Lane'));
  });
});
