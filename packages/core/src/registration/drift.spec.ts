import { DRIFTED, driftFrom } from './drift.js';

const NAME = 'Saltmarsh Ferries';
const FERRY = {
  description:
    'Saltmarsh Ferries sends people who joined its fare list offers of reduced fares on its crossings, two to four times a month.',
  samples: [
    'Saltmarsh Ferries: Hi [first name], summer fares from $19 until Sunday: saltmarsh.example/f1 Reply STOP to end.',
    'Saltmarsh Ferries: the season pass is $30 less this week. Reply STOP to end.',
  ],
};

describe('how far a text has moved from what was registered', () => {
  it('is little for what the samples speak of, in other words and numbers too', () => {
    for (const text of [
      'Saltmarsh Ferries: Hello [first name], spring fares from $17 until 31 March: saltmarsh.example/s',
      'Saltmarsh Ferries: the season pass is $40 less until Friday.',
      'Half-price crossings for members of the fare list, all summer.',
    ])
      expect(driftFrom(text, FERRY, NAME))
        .withContext(text)
        .toBeLessThan(DRIFTED);
  });

  it('is much for another subject, whoever says it', () => {
    for (const text of [
      'Saltmarsh Ferries: Win a scooter! Our friends on the pier raffle one off this week only, enter now: saltmarsh.example/r Reply STOP to end.',
      'Win a scooter! Friends on the pier raffle one off, enter now: saltmarsh.example/r',
      'Our hotel partner has rooms with breakfast and sauna at the harbour.',
      'Vote for the new bridge in the county election.',
    ])
      expect(driftFrom(text, FERRY, NAME))
        .withContext(text)
        .toBeGreaterThanOrEqual(DRIFTED);
  });

  it('says nothing of a text that says too little', () => {
    expect(driftFrom('OK, thanks!', FERRY, NAME)).toBeNull();
    expect(driftFrom('', FERRY, NAME)).toBeNull();
  });
});
