import { TestBed } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { OptInInvitation } from '@long-gate/contracts';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { InvitationsPage } from './invitations';
import { Invite, type Inviting } from './invite';

const SPRING: OptInInvitation = {
  id: 'inv_1',
  title: 'Spring',
  pageId: 'pag_1',
  subject: 'Texts for you?',
  text: 'Hello [firstName|there]: [link]',
  againDays: 90,
  standing: null,
  came: { sent: 40, heldBack: 1, failed: 2, opened: 21, answered: 12, joined: 9, left: 1 },
  createdBy: 'Wren',
  lastSentAt: Date.parse('2027-03-08T15:00:00Z'),
  version: 3,
};
const PEOPLE = [
  {
    id: 'lnk_1',
    contactId: 'con_1',
    name: 'Ada',
    email: 'ada@mail.example',
    e164: '+12125550101',
    newE164: null,
    state: 'joined',
    why: '',
    sentBy: 'Wren',
    sentAt: 1,
    answeredAt: 2,
  },
  {
    id: 'lnk_2',
    contactId: 'con_2',
    name: '',
    email: 'gone@mail.example',
    e164: '+12125550102',
    newE164: null,
    state: 'came back',
    why: '550 no such mailbox',
    sentBy: 'Wren',
    sentAt: 1,
    answeredAt: null,
  },
  {
    id: 'lnk_4',
    contactId: 'con_4',
    name: 'Cleo',
    email: 'cleo@mail.example',
    e164: '+12125550104',
    newE164: null,
    state: 'held back',
    why: 'Its link was taken back before it left.',
    sentBy: 'Wren',
    sentAt: 1,
    answeredAt: null,
  },
  {
    id: 'lnk_3',
    contactId: 'con_3',
    name: 'Bea',
    email: 'bea@mail.example',
    e164: '+12125550103',
    newE164: null,
    state: 'opened',
    why: '',
    sentBy: 'Wren',
    sentAt: 1,
    answeredAt: null,
  },
];
const OPEN_LINKS = PEOPLE.filter((x) => x.name === 'Bea');
const SHARED = {
  'pages.list': {
    items: [
      { id: 'pag_1', title: 'The bread club', published: true },
      { id: 'pag_2', title: 'Paused', published: false },
    ],
  },
  'lists.list': { items: [{ id: 'lst_1', name: 'Regulars', kind: 'list', members: 12 }] },
};

describe('invitations', () => {
  let p: OpenPage;
  const open = async (at: string, role = 'administrator'): Promise<void> => {
    p = await openPage(
      InvitationsPage,
      {
        ...SHARED,
        'invitations.list': { items: [SPRING] },
        'invitations.people': { items: PEOPLE, next: null, total: PEOPLE.length },
        'invitations.withdraw': { withdrawn: 28 },
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));

  it('say what came of each, and of whom', async () => {
    await open('/page?open=inv_1');
    const came = [...p.host.querySelectorAll('lg-docket dt')].map(
      (dt) => `${dt.textContent} ${dt.nextElementSibling?.textContent}`,
    );
    expect(came).toEqual([
      'sent 40',
      'not sent 1',
      'came back 2',
      'opened 21',
      'answered 12',
      'joined 9',
      'want none 1',
    ]);
    expect(p.text()).toContain('came back: 550 no such mailbox');
    expect(p.text()).toContain('not sent: Its link was taken back before it left.');
    const links = [...p.host.querySelectorAll<HTMLAnchorElement>('lg-docket a')].map((a) => [
      a.textContent?.trim(),
      a.search,
    ]);
    expect(links).toContain(['gone@mail.example', '?open=con_2']);
  });

  it('take back links only when that is confirmed', async () => {
    await open('/page?open=inv_1');
    await p.press('Take back the links…');
    expect(p.api.of('invitations.withdraw').map((a) => a.body)).toEqual([{ linkId: null }]);
  });

  it('take back the link of one person alone, as long as it was not answered', async () => {
    await open('/page?open=inv_1');
    const back = [...p.host.querySelectorAll<HTMLButtonElement>('[aria-label^="Take back the link of"]')];
    expect(back.map((b) => b.getAttribute('aria-label'))).toEqual(
      OPEN_LINKS.map((x) => `Take back the link of ${x.name}`),
    );
    back[0]?.click();
    await p.settle();
    expect(p.questions.at(-1)?.title).toBe(`Take back the link of ${OPEN_LINKS[0]?.name}`);
    expect(p.api.of('invitations.withdraw').map((a) => a.body)).toEqual([{ linkId: OPEN_LINKS[0]?.id }]);
  });

  it('are read by a viewer, who invites nobody', async () => {
    await open('/page?open=inv_1', 'viewer');
    expect(p.text()).toContain('Spring');
    expect(p.text()).not.toContain('Invite people');
    expect(p.text()).not.toContain('Take back');
  });
});

describe('inviting people', () => {
  let p: OpenPage;
  let closed: unknown[];
  let refuse: ApiProblem | null;
  const open = async (inviting: Inviting, role = 'administrator', letters: OptInInvitation[] = []): Promise<void> => {
    closed = [];
    refuse = null;
    TestBed.configureTestingModule({
      providers: [
        { provide: MAT_DIALOG_DATA, useValue: inviting },
        { provide: MatDialogRef, useValue: { close: (answer: unknown) => closed.push(answer) } },
      ],
    });
    p = await openPage(
      Invite,
      {
        ...SHARED,
        'invitations.list': { items: letters },
        'invitations.preview': () => ({
          invited: 3,
          noEmail: 1,
          noMore: 0,
          lately: 2,
          inAlready: 0,
          left: 4,
          sample: { to: 'ada@mail.example', subject: 'Texts?', text: 'Hello Ada: http://…' },
        }),
        'invitations.add': (a: { body: object }) => ({ ...SPRING, ...a.body, id: 'inv_9', version: 1 }),
        'invitations.edit': (a: { body: object }) => ({ ...SPRING, ...a.body, version: 4 }),
        'invitations.send': () => refuse ?? { jobId: 'job_1', invited: 3 },
      },
      { role },
    );
    await p.settle();
  };
  afterEach(() => closePage(p));

  it('say who gets the letter, who does not and why, and what one of them reads', async () => {
    await open({ whom: null, invitation: null });
    expect(p.text()).toContain('3 people get this e-mail.');
    expect(p.text()).toContain('2 were invited lately');
    expect(p.text()).toContain('4 said they want no texts; coming back is theirs');
    expect(p.text()).not.toContain('get all the page offers');
    expect(p.text()).toContain('Hello Ada');
    const offered = [...p.host.querySelectorAll('#pageId option')].map((o) => o.textContent?.trim());
    expect(offered).withContext('a page that is paused takes nobody in').toEqual(['The bread club']);
  });

  it('begin with the words of a letter that is kept, and change nothing of that', async () => {
    await open({ whom: null, invitation: null }, 'administrator', [SPRING]);
    const value = (id: string): string => p.host.querySelector<HTMLTextAreaElement>(`#${id}`)?.value ?? '';
    const usual = value('letter');
    await p.fill('like', 'inv_1');
    expect([value('subject'), value('letter')]).toEqual(['Texts for you?', 'Hello [firstName|there]: [link]']);
    await p.fill('subject', 'Texts in autumn?');
    await p.press('Keep the letter');
    expect(p.api.of('invitations.add').map((a) => a.body)).toEqual([
      jasmine.objectContaining({ subject: 'Texts in autumn?', text: 'Hello [firstName|there]: [link]' }),
    ]);
    expect(p.api.of('invitations.edit')).toEqual([]);
    await p.fill('like', '');
    expect(value('letter')).toBe(usual);
  });

  it('ask for no kept letter where there is none, or where one is sent again', async () => {
    await open({ whom: null, invitation: null });
    expect(p.host.querySelector('#like')).toBeNull();
    closePage(p);
    TestBed.resetTestingModule();
    await open({ whom: null, invitation: SPRING }, 'administrator', [SPRING]);
    expect(p.host.querySelector('#like')).toBeNull();
  });

  it('write the letter once, though an answer was lost and it was pressed again', async () => {
    await open({ whom: { listId: null, filter: null, e164s: ['+12125550101'] }, invitation: null });
    refuse = new ApiProblem(0, 'offline', 'No answer.', []);
    await p.press('Send 3 e-mails');
    expect(closed).toEqual([]);
    refuse = null;
    await p.press('Send 3 e-mails');
    expect(closed).toEqual([true]);
    expect(p.api.of('invitations.add').length).toBe(1);
    const sent = p.api.of('invitations.send');
    expect(new Set(sent.map((a) => a.key)).size).toBe(1);
    expect(sent[1]?.body).toEqual({ whom: { listId: null, filter: null, e164s: ['+12125550101'] }, seen: 3 });
    expect(sent[1]?.params['id']).toBe('inv_1');
  });

  it('keep a letter without writing to anybody, with whom it is for by itself', async () => {
    await open({ whom: null, invitation: { ...SPRING } });
    const to = p.host.querySelector<HTMLSelectElement>('#to');
    if (to) {
      to.value = 'lst_1';
      to.dispatchEvent(new Event('change'));
    }
    p.host.querySelector<HTMLInputElement>('mat-checkbox input')?.click();
    await p.settle();
    await p.press('Keep the letter');
    const [edit] = p.api.of('invitations.edit');
    expect([edit?.version, (edit?.body as { standing: unknown }).standing]).toEqual([
      3,
      { listId: 'lst_1', filter: null, e164s: null },
    ]);
    expect(p.api.of('invitations.send')).toEqual([]);
    expect(closed).toEqual([false]);
  });

  it('say what is wrong with a letter, and send none', async () => {
    await open({ whom: null, invitation: null });
    await p.fill('letter', 'Hello, no link here');
    await p.fill('againDays', 'x');
    await p.press('Keep the letter');
    expect(p.text()).toContain('Put [link] where the personal link shall stand.');
    expect(p.text()).toContain('A whole number of days.');
    expect(p.api.of('invitations.add')).toEqual([]);
  });

  it('leave it to administrators that people are invited by itself', async () => {
    await open({ whom: null, invitation: null }, 'coordinator');
    expect(p.host.querySelector('mat-checkbox')).toBeNull();
  });
});
