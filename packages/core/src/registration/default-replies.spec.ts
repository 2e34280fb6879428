import { CAMPAIGN, NAMES } from '../testing/registration.js';
import { defaultReplies } from './default-replies.js';
import { reviewReplies } from './review-replies.js';

describe('the answers a new campaign begins with', () => {
  it('lack nothing, with a long name too, and say nothing where nothing is known', () => {
    for (const nameLine of [NAMES.nameLine, 'The Friends of the Upper Quillmere Mill']) {
      const draft = { ...CAMPAIGN, ...defaultReplies(nameLine, 'office@saltmarsh.example') };
      expect(reviewReplies(draft, { ...NAMES, nameLine }).map((f) => f.code)).toEqual([]);
    }
    expect(defaultReplies('Heron Lane', '').helpMessage).toBe('');
  });
});
