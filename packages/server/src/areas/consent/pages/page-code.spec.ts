import { PNG } from 'pngjs';
import QRCode from 'qrcode';
import { codeAsPng, codeAsSvg } from './page-code.js';

const ADDRESS = 'https://office.example/join/heron';

/** Whether each module of a code in a picture is dark, read at its middle, its quiet zone left off. */
function modulesIn(png: Buffer, count: number): boolean[] {
  const picture = PNG.sync.read(png);
  const size = picture.width / (count + 8);
  return Array.from({ length: count * count }, (_, i) => {
    const x = Math.floor(((i % count) + 4.5) * size);
    const y = Math.floor((Math.floor(i / count) + 4.5) * size);
    return (picture.data[4 * (y * picture.width + x)] ?? 255) < 128;
  });
}

describe('the code of a page for print', () => {
  it('says its address, module for module, with a quiet zone around it', async () => {
    const { modules } = QRCode.create(ADDRESS, { errorCorrectionLevel: 'M' });
    const png = await codeAsPng(ADDRESS);
    const picture = PNG.sync.read(png);
    expect(picture.width).toBe(1200);
    expect(modulesIn(png, modules.size)).toEqual(Array.from(modules.data, (m) => m === 1));
    for (let i = 0; i < picture.width; i++) expect(picture.data[4 * i]).toBe(255);
  });

  it('is another for another address, and can be drawn at any size', async () => {
    const [one, other] = await Promise.all([codeAsSvg(ADDRESS), codeAsSvg(`${ADDRESS}-too`)]);
    expect(one).toContain('<svg');
    expect(one).toContain('viewBox');
    expect(one).not.toBe(other);
  });
});
