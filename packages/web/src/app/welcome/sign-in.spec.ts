import { ApiProblem } from '../api/api';
import { closePage, openPage, type OpenPage } from '../../testing/open-page';
import { SignIn } from './sign-in';

const code = new ApiProblem(401, 'second-factor', 'Give the code.', [{ field: 'code', message: 'Not this code.' }]);

describe('the page to sign in at', () => {
  let p: OpenPage;
  afterEach(() => closePage(p));
  const signIn = async (): Promise<void> => {
    await p.fill('email', 'wren@heron.example');
    await p.fill('password', 'rye and barley');
    await p.press('Sign in');
  };

  it('asks for a code where one is needed, takes the person to it, and calls it wrong only once it was sent without a good one', async () => {
    p = await openPage(SignIn, { 'session.signIn': code });
    expect(p.text()).not.toContain('authenticator');
    await signIn();
    expect(p.text()).toContain('Code of your authenticator');
    expect(document.activeElement?.id).toBe('code');
    expect(p.host.querySelector('.error')).withContext('nothing is wrong yet').toBeNull();
    await p.press('Sign in');
    expect(p.host.querySelector('.error')).withContext('sent again without one').not.toBeNull();
    await p.fill('code', '000000');
    await p.press('Sign in');
    expect(p.host.querySelector('#code-wrong')?.textContent).toContain('Not this code.');
    expect(document.activeElement?.id).withContext('where it is to be mended').toBe('code');
    p.api.answers['session.signIn'] = { user: { id: 'usr_1' } };
    await p.fill('code', '123456');
    await p.press('Sign in');
    expect(p.api.of('session.signIn').at(-1)?.body).toEqual({
      email: 'wren@heron.example',
      password: 'rye and barley',
      code: '123456',
    });
    expect(p.url()).toBe('/');
  });

  it('says what the server refuses, keeps what was typed, and goes where the person was headed', async () => {
    p = await openPage(
      SignIn,
      { 'session.signIn': new ApiProblem(401, 'sign-in', 'E-mail or password is wrong.', []) },
      { at: '/page?to=%2Fb%2Fbiz_1%2Fnumbers' },
    );
    await signIn();
    expect(p.host.querySelector('lg-faults')?.textContent).toContain('E-mail or password is wrong.');
    expect(p.host.querySelector<HTMLInputElement>('#email')?.value).toBe('wren@heron.example');
    p.api.answers['session.signIn'] = { user: { id: 'usr_1' } };
    await p.press('Sign in');
    expect(p.url()).toBe('/b/biz_1/numbers');
  });

  it('leads nowhere outside', async () => {
    p = await openPage(
      SignIn,
      { 'session.signIn': { user: { id: 'usr_1' } } },
      { at: '/page?to=https:%2F%2Fx.example' },
    );
    await signIn();
    expect(p.url()).toBe('/');
  });
});
