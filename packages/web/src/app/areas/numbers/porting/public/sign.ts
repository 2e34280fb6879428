import {
  ChangeDetectionStrategy,
  Component,
  effect,
  type ElementRef,
  inject,
  input,
  type OnDestroy,
  resource,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { getLetterToSign, signLetter } from '@long-gate/contracts';
import SignaturePad from 'signature_pad';
import { Api, type ApiProblem } from '../../../../api/api';
import { PhonePipe } from '../../../../parts/format';
import { checkWith } from '../../../../parts/schema-form';
import { DayPipe } from '../port-words';

/** What the account holder opens by a link: reads the letter of authorisation and signs it, typed or drawn. */
@Component({
  selector: 'lg-sign',
  imports: [MatCheckboxModule, MatInputModule, MatButtonModule, PhonePipe, DayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main class="for-thumbs">
      @if (letter.error(); as e) {
        <h1>This link is not good any more</h1>
        <p>{{ e.message }} Ask the business for a new one.</p>
      } @else if (letter.value(); as l) {
        @if (l.signed || signed()) {
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
          <form (submit)="sign(); $event.preventDefault()" novalidate>
            <div class="field" [class.wrong]="errors()['name']">
              <label for="name">Your full name <span>it stands as your signature</span></label>
              <mat-form-field
                ><input
                  matInput
                  id="name"
                  autocomplete="name"
                  [value]="name()"
                  (input)="name.set($any($event.target).value)"
              /></mat-form-field>
              @if (errors()['name']) {
                <p class="error" role="alert">{{ errors()['name'] }}</p>
              }
            </div>
            <div class="field" [class.wrong]="errors()['drawn']">
              <span class="label" id="drawn-label"
                >Signature, drawn <span>if you like, with a finger or the mouse</span></span
              >
              <canvas #pad aria-labelledby="drawn-label" role="img"></canvas>
              <button type="button" matButton class="plain small" (click)="clear()">Clear the drawing</button>
              @if (errors()['drawn']) {
                <p class="error" role="alert">{{ errors()['drawn'] }}</p>
              }
            </div>
            <mat-checkbox class="check" [checked]="agreed()" (change)="agreed.set($event.checked)"
              >I am the account holder or may decide for the holder, and I have read the letter.</mat-checkbox
            >
            @if (errors()['agreed']) {
              <p class="error" role="alert">{{ errors()['agreed'] }}</p>
            }
            @if (errors()['']) {
              <p class="error" role="alert">{{ errors()[''] }}</p>
            }
            <p class="soft small">
              Dated {{ l.today | day }}. Your name, the day and the address of your connection are kept with it.
            </p>
            <button type="submit" matButton="filled" [disabled]="busy()">
              {{ busy() ? 'Signing…' : 'Sign the letter' }}
            </button>
          </form>
        }
      } @else {
        <p>…</p>
      }
    </main>
  `,
  styles: `
    main {
      max-width: 560px;
      margin: 0 auto;
      min-height: 100vh;
      padding: 24px 20px;
      background: var(--surface);
      font-size: 16px;
    }
    h1 {
      margin: 4px 0 12px;
      font-weight: 700;
    }
    main > p {
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
  private readonly api = inject(Api);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('pad');
  private pad: SignaturePad | null = null;
  protected readonly letter = resource({
    params: () => this.token(),
    loader: ({ params: token }) => this.api.call(getLetterToSign, { params: { token } }),
  });
  protected readonly name = signal('');
  protected readonly agreed = signal(false);
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly busy = signal(false);
  protected readonly signed = signal(false);

  constructor() {
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
  }

  protected async sign(): Promise<void> {
    const drawn = this.pad && !this.pad.isEmpty() ? this.pad.toDataURL('image/png') : '';
    const body = { name: this.name(), agreed: this.agreed(), drawn };
    this.errors.set(checkWith(signLetter.body, body));
    if (Object.keys(this.errors()).length > 0) return;
    this.busy.set(true);
    try {
      await this.api.call(signLetter, { params: { token: this.token() }, body: { ...body, agreed: true } });
      this.signed.set(true);
    } catch (error) {
      const e = error as ApiProblem;
      this.errors.set(
        e.fields.length > 0 ? Object.fromEntries(e.fields.map((f) => [f.field, f.message])) : { '': e.message },
      );
    } finally {
      this.busy.set(false);
    }
  }
}
