import {
  ChangeDetectionStrategy,
  Component,
  effect,
  inject,
  input,
  viewChild,
  type ElementRef,
  type OnDestroy,
} from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { signLetter } from '@long-gate/contracts';
import SignaturePad from 'signature_pad';
import { CheckedForm, faultOf } from '../../../../parts/form/checked-form';
import { readOf } from '../../../../parts/form/control-state';
import { Faults } from '../../../../parts/form/faults';
import { Form } from '../../../../parts/form/form';
import { TextField } from '../../../../parts/form/text-field';
import { PhonePipe } from '../../../../parts/format';
import { PublicPage } from '../../../../parts/public-page';
import { DayPipe } from '../port-words';
import { SignStore } from './sign.store';
import { flag, text } from '../../../../parts/form/controls';

/** What the account holder opens by a link: reads the letter of authorisation and signs it, typed or drawn. */
@Component({
  selector: 'lg-sign',
  imports: [
    ReactiveFormsModule,
    Faults,
    Form,
    PublicPage,
    TextField,
    MatCheckboxModule,
    MatButtonModule,
    PhonePipe,
    DayPipe,
  ],
  providers: [SignStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-public-page>
      @if (store.letter.error(); as e) {
        <h1>This link is not good any more</h1>
        <p>{{ e.message }}</p>
      } @else if (store.letter.value(); as l) {
        @if (l.signed || store.signed()) {
          <h1>Thank you, it is signed</h1>
          <p>
            Keep the present service on, and paid, until {{ l.business }} tells you that the numbers have changed over.
            You can close this page.
          </p>
        } @else {
          <p class="soft">{{ l.business }}</p>
          <h1>Letter of authorisation</h1>
          <dl class="facts">
            <dt>Account holder</dt>
            <dd>{{ l.holderName }}</dd>
            <dt>Address</dt>
            <dd>{{ l.address || '–' }}</dd>
            <dt>Present carrier</dt>
            <dd>{{ l.losingCarrier }}</dd>
            <dt>{{ l.numbers.length === 1 ? 'Number' : 'Numbers' }}</dt>
            <dd>
              @for (n of l.numbers; track n) {
                <div class="mono">{{ n | phone }}</div>
              }
            </dd>
          </dl>
          @for (p of l.paragraphs; track $index) {
            <p>{{ p }}</p>
          }
          <form [lgForm]="form" (sent)="sign()">
            <lg-text-field
              [control]="form.controls.name"
              label="Your full name"
              hint="it stands as your signature"
              name="name"
              autocomplete="name"
            />
            <div class="field" [class.wrong]="drawnWrong()">
              <span class="label" id="drawn-label"
                >Signature, drawn <span>if you like, with a finger or the mouse</span></span
              >
              <canvas #pad aria-labelledby="drawn-label" role="img"></canvas>
              <button type="button" matButton class="plain small" (click)="clear()">Clear the drawing</button>
              @if (drawnWrong(); as words) {
                <p class="error" role="alert">{{ words }}</p>
              }
            </div>
            <mat-checkbox class="check" [formControl]="form.controls.agreed"
              >I am the account holder or may decide for the holder, and I have read the letter.</mat-checkbox
            >
            @if (agreedWrong(); as words) {
              <p class="error" role="alert">{{ words }}</p>
            }
            <lg-faults [form]="form" />
            <p class="soft small">
              Dated {{ l.today | day }}. Your name, the day and the address of your connection are kept with it.
            </p>
            <button type="submit" matButton="filled" [disabled]="form.busy()">
              {{ form.busy() ? 'Signing…' : 'Sign the letter' }}
            </button>
          </form>
        }
      } @else {
        <p>…</p>
      }
    </lg-public-page>
  `,
  styles: `
    h1 {
      margin: 4px 0 12px;
      font-weight: 700;
    }
    p {
      margin: 10px 0;
    }
    form {
      margin-top: 18px;
    }
    canvas {
      display: block;
      width: 100%;
      height: 130px;
      border: 1px solid var(--hairline);
      border-radius: 2px;
      background: #fff;
      touch-action: none;
    }
  `,
})
export class SignPage implements OnDestroy {
  readonly token = input.required<string>();
  protected readonly store = inject(SignStore);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('pad');
  private pad: SignaturePad | null = null;
  protected readonly form = new CheckedForm(
    {
      name: text(),
      drawn: text(),
      agreed: flag(),
    },
    signLetter.body,
  );
  protected readonly drawnWrong = readOf(() => this.form.controls.drawn, faultOf);
  protected readonly agreedWrong = readOf(() => this.form.controls.agreed, faultOf);

  constructor() {
    this.store.about(this.token);
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      if (!canvas || this.pad) return;
      // As many points as the screen has, so that the line is smooth.
      const ratio = Math.min(2, window.devicePixelRatio || 1);
      canvas.width = canvas.offsetWidth * ratio;
      canvas.height = canvas.offsetHeight * ratio;
      canvas.getContext('2d')?.scale(ratio, ratio);
      this.pad = new SignaturePad(canvas, { penColor: '#1D2A2F' });
    });
  }

  ngOnDestroy(): void {
    this.pad?.off();
  }

  protected clear(): void {
    this.pad?.clear();
    this.form.controls.drawn.setValue('');
  }

  protected async sign(): Promise<void> {
    this.form.controls.drawn.setValue(this.pad && !this.pad.isEmpty() ? this.pad.toDataURL('image/png') : '');
    await this.form.send((body) => this.store.sign(body));
  }
}
