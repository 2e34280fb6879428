import { saysHowOften, saysRates } from '../../text/disclosed.js';
import { conditions } from './condition.js';
import { isNotEnglish } from './language.js';
import { likeness } from './likeness.js';
import { phonesIn } from './phones.js';
import { namesPlace } from './place.js';
import { postBox } from './post-box.js';
import { sentencesOf } from './sentences.js';
import { sharingForMarketing } from './sharing.js';
import { strangersLists } from './sources.js';
import { adultsOnly, forbiddenSubject, lendingWords } from './subjects.js';

/** What is found in each text, as its own words; each family beside its innocents. */
const wordsOf = (text: string, found: readonly { start: number; end: number }[]): string[] =>
  found.map((f) => text.slice(f.start, f.end));
function finds(find: (text: string) => unknown, texts: readonly string[]): void {
  for (const text of texts) expect(find(text)).withContext(text).toBeTruthy();
}
function leaves(find: (text: string) => unknown, texts: readonly string[]): void {
  for (const text of texts) expect(find(text)).withContext(text).toBeFalsy();
}

describe('the families of words reviewers decline', () => {
  it('take sentences as they are written, and no full stop of an address for an end', () => {
    expect(sentencesOf('On quay.example/join people tick. Nothing else! Is it?  ').map((s) => s.text)).toEqual([
      'On quay.example/join people tick.',
      'Nothing else!',
      'Is it?',
    ]);
    const text = ' One.  Two is here. ';
    expect(sentencesOf(text).map((s) => text.slice(s.start, s.start + s.text.length))).toEqual([
      'One.',
      'Two is here.',
    ]);
  });

  const conditionIn = (text: string): boolean => conditions(text).length > 0;
  it('find agreement that is a condition, taken as given or hidden', () => {
    finds(conditionIn, [
      'By completing the order the customer consents to texts.',
      'Whoever rents a boat is signed up for offers.',
      'Any customer who books receives our promotions.',
      'Consent to texts is mandatory for membership.',
      'A phone number and agreement to alerts are required.',
      'You cannot check out without agreeing to texts.',
      'New tenants are subscribed to our list when they sign the lease.',
      'The box is already ticked.',
      'Our privacy policy grants us permission to text.',
      'Payment counts as consent.',
      'They may refuse letters, but they must agree to texts.',
    ]);
  });
  it('let a free choice be, however near its words come', () => {
    leaves(conditionIn, [
      'Consent is not a condition of purchase.',
      'Nobody has to agree to texts in order to rent.',
      'By booking they get a ticket.',
      'People who book may tick a box for texts.',
      'They are added to the list once they reply YES.',
      'The box is never ticked beforehand.',
      'Everyone who orders gets a receipt by e-mail.',
      'Agreeing to texts is not required to buy anything.',
      'They must choose a seat.',
      'Our terms page contains how to stop the texts.',
      'The privacy policy covers messages and calls.',
    ]);
  });

  const strangers = (text: string): boolean => strangersLists(text).length > 0;
  it('find numbers that come from strangers', () => {
    finds(strangers, [
      'We buy consumer data every spring.',
      'Our leads were licensed for a year.',
      'We obtain names from a marketing company.',
      'Numbers are scraped from listings.',
      'Partners pass their customers’ details on to us.',
      'Some are from property records.',
    ]);
    const text = 'We use bought lists and lists we rented.';
    expect(wordsOf(text, strangersLists(text))).toEqual(['bought lists', 'lists we rented']);
  });
  it('let those be who deny it, or buy something else', () => {
    leaves(strangers, [
      'We never buy, rent or share lists.',
      'No list is purchased from anybody.',
      'They tell us when they buy bread.',
      'People who bought a ticket may tick a box.',
      'Without bought lists we are few.',
      'Guests rent a boat and leave their number.',
    ]);
  });

  const shared = (text: string): boolean => sharingForMarketing(text).length > 0;
  it('find numbers that go to others for marketing, and no promise of the contrary', () => {
    finds(shared, [
      'We share your number with selected partners.',
      'Information may be sold to third parties for their promotions.',
      'Up to five installers may contact you.',
    ]);
    leaves(shared, [
      'Mobile numbers are not shared with third parties for marketing.',
      'No mobile information will be sold or shared with affiliates for promotional purposes.',
      'We share our news with members.',
      'Numbers are disclosed to our messaging provider to deliver the texts.',
    ]);
  });

  it('know forbidden subjects by their family, and their everyday homonyms', () => {
    finds(forbiddenSubject, [
      'Double your first deposit tonight',
      'THC drinks are in',
      'Loans until payday, no questions',
      'We cut your debt in half',
      'Make $900 a week from home',
      'We sell leads to agents',
    ]);
    leaves(forbiddenSubject, [
      'Essex Lane sells an action figure',
      'A class action has begun',
      'You have credit for your next sailing',
      'Weeding day in the garden on Sunday',
      'The lead singer is ill',
      'Settle the bill at the desk',
      'We bet you will like it',
      'We pay $18 an hour',
      'The police escort leaves at nine',
    ]);
  });
  it('know what is for adults, and what only sounds like it', () => {
    finds(adultsOnly, ['A pint for two', 'Hunting rifles are in', 'Cigars from the islands', 'Wine club on Friday']);
    leaves(adultsOnly, [
      'Ginger beer for the kids',
      'A nail gun and a glue gun',
      'Rum-raisin ice',
      'Bring hand sanitizer',
      'Give a pint of blood',
      'Do not jump the gun',
      'Engine oil is 3 pints of milk dear',
    ]);
  });
  it('know lending of money from lending of books', () => {
    finds(lendingWords, ['Refinance today', 'Car loans from 5.9%', 'A mortgage for you', '4.9% APR']);
    leaves(lendingWords, [
      'Your interlibrary loan is here',
      'The seed lending library',
      'See you on April 9',
      'Tool lending on Saturday',
    ]);
  });

  it('see phone numbers as people write them', () => {
    for (const [text, numbers] of [
      ['Call (201) 555-0142 or 201.555.0143.', ['(201) 555-0142', '201.555.0143']],
      ['Call 1-800-555-PANE now', ['1-800-555-PANE']],
      ['From abroad +44 7700 900112.', ['+44 7700 900112']],
      ['Call 2015550142', ['2015550142']],
      ['(201)555-0133', ['(201)555-0133']],
    ] as const)
      expect(wordsOf(text, phonesIn(text)))
        .withContext(text)
        .toEqual([...numbers]);
    leaves(
      (t) => phonesIn(t).length > 0,
      [
        'order 2015550142 was packed',
        'From 2026-03-12 to 2026-04-01',
        'It costs $1,200.50',
        'Code 482913',
        'Bus 800 leaves at 9',
      ],
    );
  });

  it('hear how often and rates as real disclosures put them, and not words that look like it', () => {
    finds(saysHowOften, [
      'Msg frequency varies',
      'up to 4 msgs/mo',
      '2 texts a month',
      'recurring messages',
      'about once a week',
      '1 msg/day',
    ]);
    leaves(saysHowOften, ['a monthly pass for you', 'open on weekdays', 'welcome to our club', 'your weekly ticket']);
    finds(saysRates, [
      'Msg&data rates may apply',
      'Message and data charges may apply',
      'Standard rates apply',
      'carrier fees may be charged',
    ]);
    leaves(saysRates, ['a first-rate school', 'our rates are low', 'see the rates page']);
  });

  it('know English from other languages where there is enough of it', () => {
    expect(isNotEnglish('Enviamos a los clientes de la tienda las ofertas de la semana y los cursos.')).toBeTrue();
    expect(isNotEnglish('Wir senden den Kunden, die es wollen, Angebote und Neues aus dem Laden.')).toBeTrue();
    expect(isNotEnglish('Mercado Bahia sends customers on its list the offers of the week.')).toBeFalse();
    expect(isNotEnglish('pan dulce fresco')).withContext('too short to tell').toBeFalse();
  });

  it('know a post box in any spelling, and a lane that is called so', () => {
    finds(postBox, [
      'P.O. Box 12',
      'PO BOX 4',
      'P O Box 9',
      'POB 44',
      'Post Office Drawer 112',
      'PMB 12',
      'Box 77',
      'Postal Box 3',
    ]);
    leaves(postBox, ['12 Box Elder Lane', '4 Quay Road', '9 Pobrook Street', '1 Boxwood Court', '7 Drawbridge Road']);
  });

  it('know a place where people agree', () => {
    finds(namesPlace, [
      'On our page',
      'At the counter',
      'When they call',
      'On quay.example/join',
      'They text the word JOIN',
    ]);
    leaves(namesPlace, ['They have always liked it', 'Everybody we know']);
  });

  it('tell how much two texts have in common', () => {
    const text =
      'Saltmarsh Ferries sends people who joined its fare list offers on crossings and season passes every month';
    expect(likeness(text, text)).toBe(1);
    expect(likeness(text, text.replace('fare list', 'news list'))).toBeGreaterThan(0.5);
    expect(
      likeness(
        text,
        'Northbank Seeds answers members who write about seeds, workshops, grafting, beans and the library',
      ),
    ).toBe(0);
    expect(likeness('too short', 'too short')).toBe(0);
  });
});
