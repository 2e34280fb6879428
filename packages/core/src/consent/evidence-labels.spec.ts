import { evidenceLabel, legibleEvidence } from './evidence-labels.js';

describe('what an event rests on, in words', () => {
  it('is called as people call it, and by its key where that is none of ours', () => {
    expect(['agent', 'optOutList', 'unheardOf', 'constructor'].map(evidenceLabel)).toEqual([
      'Browser',
      'List of opt-outs',
      'unheardOf',
      'constructor',
    ]);
  });

  it('leaves out ids of what stands elsewhere, and what was not kept', () => {
    const evidence = { form: 'frm_1', message: 'msg_1', document: 'scan.pdf', ip: '', said: 'I want them back' };
    expect(legibleEvidence(evidence)).toEqual([
      ['Document', 'scan.pdf'],
      ['It says', 'I want them back'],
    ]);
  });
});
