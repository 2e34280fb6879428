import { ApiProblem } from '../../api/api';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { YouSettings } from './you';

describe('one’s own account as it is used', () => {
  let p: OpenPage;
  afterEach(() => closePage(p));
  const open = async (over: object = {}): Promise<void> => {
    p = await openPage(YouSettings, {
      'sessions.list': { items: [] },
      'factor.get': { on: true, recoveryCodesLeft: 2 },
      'session.password': { ended: 0 },
      'session.mobile': { user: { mobilePending: '+12015550191' } },
      ...over,
    });
  };

  it('asks nothing of the server for a new password that is too short, and takes the person to it', async () => {
    await open();
    await p.fill('present-password', 'rye and barley');
    await p.fill('next-password', 'short');
    await p.press('Change it');
    expect(p.api.of('session.password')).toEqual([]);
    expect(p.host.querySelector('#next-password-wrong')?.textContent).toContain('at least 10');
    expect(document.activeElement?.id).toBe('next-password');
    await p.fill('next-password', 'spelt and rye bread');
    await p.press('Change it');
    expect(p.api.of('session.password').length).toBe(1);
    expect(p.host.querySelector<HTMLInputElement>('#present-password')?.value).withContext('forgotten').toBe('');
    expect(p.host.querySelector('.error')).withContext('an empty form is no fault').toBeNull();
  });

  it('shows a wrong present password at its field', async () => {
    await open({
      'session.password': new ApiProblem(422, 'refused', 'No.', [{ field: 'password', message: 'Not your password.' }]),
    });
    await p.fill('present-password', 'oats');
    await p.fill('next-password', 'spelt and rye bread');
    await p.press('Change it');
    expect(p.host.querySelector('#present-password-wrong')?.textContent).toContain('Not your password.');
  });

  it('forgets a password that was typed to take the second factor away once that is left', async () => {
    await open();
    await p.press('Take it away');
    const typed = () => p.host.querySelector<HTMLInputElement>('lg-own-factor input[type=password]');
    expect(document.activeElement).toBe(typed());
    await p.fill(typed()?.id ?? '', 'rye and barley');
    await p.press('Take it away');
    expect(p.api.of('factor.end')).withContext('the code is missing').toEqual([]);
    expect(p.text()).toContain('Write the code.');
    await p.press('Not now');
    await p.press('Take it away');
    expect(typed()?.value).toBe('');
    expect(p.text()).not.toContain('Write the code.');
  });

  it('begins a set-up anew without what was typed in the one before', async () => {
    await open({
      'factor.get': { on: false, recoveryCodesLeft: 0 },
      'factor.begin': { secret: 'ABCDEFGH', uri: 'otpauth://x', qr: 'data:,' },
      'factor.confirm': new ApiProblem(422, 'refused', 'No.', [{ field: 'code', message: 'Not the code of now.' }]),
    });
    const begin = async (): Promise<void> => {
      await p.fill('factor-password', 'rye and barley');
      await p.press('Set it up');
    };
    await begin();
    expect(p.text()).toContain('ABCD EFGH');
    await p.fill('factor-code', '000000');
    await p.press('Confirm');
    expect(p.text()).toContain('Not the code of now.');
    await p.press('Not now');
    await begin();
    expect(p.host.querySelector<HTMLInputElement>('#factor-code')?.value).toBe('');
    expect(p.host.querySelector('.error')).toBeNull();
  });

  it('has the business pay for a code, and says where none was sent', async () => {
    await open();
    await p.fill('mobile', '201-555-0191');
    await p.press('Save');
    expect(p.api.of('session.mobile').at(-1)?.body).toEqual({ mobile: '201-555-0191', businessId: 'biz_1' });
    expect(p.said).toEqual(['A code is on its way to it.']);
    p.api.answers['session.mobile'] = new ApiProblem(429, 'too-many', 'Enough codes were sent today.', []);
    await p.press('Save');
    expect(p.text()).toContain('Enough codes were sent today.');
  });
});
