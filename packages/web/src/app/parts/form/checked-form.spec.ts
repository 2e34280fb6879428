import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { FormControl, FormGroup } from '@angular/forms';
import { MatInputHarness } from '@angular/material/input/testing';
import { addBusiness } from '@long-gate/contracts';
import { ApiProblem } from '../../api/api';
import { CheckedForm, faultOf } from './checked-form';
import { text } from './controls';
import { Faults } from './faults';
import { Form } from './form';
import { TextField } from './text-field';
import * as z from 'zod';

const made = () =>
  new CheckedForm({ legalName: text(), nameLine: text(), form: text('private company') }, addBusiness.body);

describe('a form checked by its contract', () => {
  it('knows what is wrong, in the words of the server, and says it once a field has been left', () => {
    const form = made();
    const { legalName } = form.controls;
    expect(form.group.valid).toBeFalse();
    expect(faultOf(legalName)).withContext('nobody has been there yet').toBe('');
    legalName.markAsTouched();
    expect(faultOf(legalName)).toBe('The legal name is missing.');
    legalName.setValue('Heron LLC');
    expect(faultOf(legalName)).toBe('');
  });

  it('says what is wrong with one of several words at the field they stand in', () => {
    const schema = z.object({ states: z.array(z.string().max(2, 'Two letters each.')) });
    const form = new CheckedForm({ states: new FormControl<string[]>([], { nonNullable: true }) }, schema);
    form.controls.states.setValue(['NJ', 'Jersey']);
    form.controls.states.markAsTouched();
    expect(faultOf(form.controls.states)).toBe('Two letters each.');
    expect(form.group.errors).toBeNull();
    form.refuse(new ApiProblem(422, 'refused', 'No.', [{ field: 'body.states.1', message: 'No such state.' }]));
    expect(faultOf(form.controls.states)).toBe('No such state.');
  });

  it('says what to give where the contract has no words of its own, and never a parser’s', () => {
    const schema = z.object({ days: z.number().int().min(1).max(60) });
    const form = new CheckedForm({ days: new FormControl<number>(30, { nonNullable: true }) }, schema);
    const told = [NaN, 1.5, 0, 61].map((days) => {
      form.controls.days.setValue(days);
      form.controls.days.markAsTouched();
      return faultOf(form.controls.days);
    });
    expect(told).toEqual(['Give a number.', 'Give a whole number.', 'At least 1.', 'At most 60.']);
  });

  it('says all faults at once when it is sent, and sends nothing', async () => {
    const form = made();
    form.controls.nameLine.setValue('a:b');
    let sent = 0;
    expect(await form.send(() => Promise.resolve(++sent))).toBeUndefined();
    expect(sent).toBe(0);
    expect(faultOf(form.controls.legalName)).toBe('The legal name is missing.');
    expect(faultOf(form.controls.nameLine)).toBe('The name line may not contain a colon, bracket or bar.');
  });

  it('sends what the contract makes of it, and once only while it is on its way', async () => {
    const form = made();
    form.group.setValue({ legalName: '  Heron LLC ', nameLine: 'Heron', form: 'private company' });
    const bodies: unknown[] = [];
    let go: (v: boolean) => void = () => undefined;
    const first = form.send((body) => {
      bodies.push(body);
      return new Promise<boolean>((r) => (go = r));
    });
    expect(form.busy()).toBeTrue();
    expect(await form.send((body) => Promise.resolve(bodies.push(body)))).toBeUndefined();
    go(true);
    expect(await first).toBeTrue();
    expect(form.busy()).toBeFalse();
    expect(bodies).toEqual([{ legalName: 'Heron LLC', nameLine: 'Heron', form: 'private company' }]);
  });

  it('shows what the server refuses at its field until it is changed; the rest at the whole', async () => {
    const form = made();
    form.group.setValue({ legalName: 'Heron LLC', nameLine: 'Heron', form: 'private company' });
    const refusal = new ApiProblem(400, 'refused', 'Refused.', [
      { field: 'nameLine', message: 'Another business has this name line.' },
      { field: 'elsewhere', message: 'And something else.' },
    ]);
    await form.send(() => Promise.reject(refusal));
    expect(faultOf(form.controls.nameLine)).toBe('Another business has this name line.');
    expect(form.group.errors).toEqual({ wrong: 'And something else.' });
    form.controls.nameLine.setValue('Heron Lane');
    expect(form.group.valid).toBeTrue();
  });

  it('reads a value that is made of several fields, and puts its faults where they belong', () => {
    const form = new CheckedForm(
      { names: new FormGroup({ legal: text(), line: text('Heron') }), form: text('private company') },
      addBusiness.body,
      {
        body: (v) => ({ legalName: v.names.legal, nameLine: v.names.line, form: v.form }),
        at: (path) => ({ legalName: 'names.legal', nameLine: 'names.line' })[path] ?? path,
      },
    );
    form.fits();
    expect(faultOf(form.controls.names.controls.legal)).toBe('The legal name is missing.');
    expect(faultOf(form.controls.names.controls.line)).toBe('');
  });
});

@Component({
  selector: 'lg-example',
  imports: [Form, Faults, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [lgForm]="form" (sent)="sent = sent + 1">
      <lg-text-field [control]="form.controls.legalName" label="Legal name" name="legal" />
      <lg-text-field [control]="form.controls.nameLine" label="Name line" name="line" />
      <lg-faults [form]="form" />
      <button type="submit" matButton>Send</button>
    </form>
  `,
})
class Example {
  readonly form = made();
  sent = 0;
}

describe('a form on a page', () => {
  let fixture: ComponentFixture<Example>;
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(Example);
    document.body.append(fixture.nativeElement as HTMLElement);
    await fixture.whenStable();
  });
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());
  const field = (id: string): Promise<MatInputHarness> =>
    TestbedHarnessEnvironment.loader(fixture).getHarness(MatInputHarness.with({ selector: `#${id}` }));
  const said = (): string[] =>
    Array.from((fixture.nativeElement as HTMLElement).querySelectorAll('[role=alert]')).map(
      (e) => e.textContent?.trim() ?? '',
    );
  const send = async (): Promise<void> => {
    (fixture.nativeElement as HTMLElement).querySelector('button')?.click();
    await fixture.whenStable();
  };

  it('says what is wrong with a field when it is left, not before', async () => {
    const legal = await field('legal');
    await legal.focus();
    expect(said()).toEqual([]);
    await legal.blur();
    expect(said()).toEqual(['The legal name is missing.']);
    await legal.setValue('Heron LLC');
    expect(said()).toEqual([]);
  });

  it('goes to the first fault and counts them all when it is sent', async () => {
    await send();
    expect(document.activeElement?.id).toBe('legal');
    expect(said()).toEqual(['The legal name is missing.', 'The name line is missing.', '2 fields are to be mended.']);
    expect(fixture.componentInstance.sent).toBe(0);
    await (await field('legal')).setValue('Heron LLC');
    await send();
    expect(document.activeElement?.id).toBe('line');
    expect(said()).toEqual(['The name line is missing.']);
    await (await field('line')).setValue('Heron');
    await send();
    expect(fixture.componentInstance.sent).toBe(1);
  });

  it('ties what is wrong to its field for whoever does not see it', async () => {
    await send();
    const legal = (fixture.nativeElement as HTMLElement).querySelector('#legal');
    expect(legal?.getAttribute('aria-invalid')).toBe('true');
    expect(legal?.getAttribute('aria-describedby')).toContain('legal-wrong');
    expect(document.getElementById('legal-wrong')?.textContent?.trim()).toBe('The legal name is missing.');
  });

  it('is spoken to by label', async () => {
    await fixture.whenStable();
    const label = (fixture.nativeElement as HTMLElement).querySelector('label');
    expect(label?.getAttribute('for')).toBe('legal');
  });
});
