import { provideZonelessChangeDetection } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { FileButton } from './file-button';

describe('a button that takes a file', () => {
  let fixture: ComponentFixture<FileButton>;
  let chosen: string[];
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(FileButton);
    fixture.componentRef.setInput('accept', '.csv');
    chosen = [];
    fixture.componentInstance.chosen.subscribe((f) => chosen.push(f.name));
    await fixture.whenStable();
  });
  const field = (): HTMLInputElement =>
    (fixture.nativeElement as HTMLElement).querySelector('input') as HTMLInputElement;
  const take = (name: string): void => {
    const files = new DataTransfer();
    files.items.add(new File(['x'], name));
    field().files = files.files;
    field().dispatchEvent(new Event('change'));
  };

  it('opens the dialog of the browser for its kinds of files', async () => {
    const opened = spyOn(field(), 'click');
    await (await TestbedHarnessEnvironment.loader(fixture).getHarness(MatButtonHarness)).click();
    expect(opened).toHaveBeenCalledTimes(1);
    expect(field().accept).toBe('.csv');
  });

  it('hands over what was chosen, also the same file again once it was mended', () => {
    take('bill.pdf');
    expect(field().value).toBe('');
    take('bill.pdf');
    expect(chosen).toEqual(['bill.pdf', 'bill.pdf']);
  });

  it('hands over nothing where the dialog was closed without a choice', () => {
    field().dispatchEvent(new Event('change'));
    expect(chosen).toEqual([]);
  });
});
