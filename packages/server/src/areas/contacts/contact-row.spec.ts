import type { ContactRow } from '@long-gate/contracts';
import { GATE } from '@long-gate/core';
import { Office } from '../../testing/office.js';

describe('the gate beside a contact', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const verdicts = async (id: string): Promise<ContactRow['verdicts']> =>
    (await o.app.edits.detail(o.app.platform.db, o.business, id)).verdicts;

  it('answers for each kind of text by itself, as a dispatch of that kind would', async () => {
    const id = await o.contact('+12125550100', ['informational']);
    const v = await verdicts(id);
    expect([v.informational.result, v.promotional.result]).toEqual(['pass', 'stop']);
    expect(v.promotional.why).toBe('never agreed to this kind of text');
    for (const purpose of ['informational', 'promotional'] as const) {
      const { counts } = await o.app.preview.preview(
        o.business,
        await o.draft({ purpose, text: 'The rye loaf is 20% off.', override: 'For once, as agreed with everybody.' }),
      );
      const decided = counts.posts.find((p) => p.hold + p.stop > 0)?.reasons[0]?.reason;
      expect([purpose, counts.pass, decided]).toEqual([
        purpose,
        purpose === 'informational' ? 1 : 0,
        purpose === 'informational' ? undefined : 'consent-none',
      ]);
    }
  });

  it('holds offers alone by the three in a day, and says so where it draws it', async () => {
    const id = await o.contact('+12125550100', ['informational', 'promotional']);
    await o.app.platform.db.write((w) =>
      w.run('UPDATE contact_number SET promotional_cap_until = $1', [o.now + 3_600_000]),
    );
    const v = await verdicts(id);
    expect([v.informational.result, v.promotional.result, v.promotional.why]).toEqual([
      'pass',
      'hold',
      'three offers in 24 hours',
    ]);
    const post = GATE.findIndex((p) => p.key === 'frequency') + 1;
    expect(v.promotional.answers.find((a) => a.post === post)?.result).toBe('hold');
  });
});
