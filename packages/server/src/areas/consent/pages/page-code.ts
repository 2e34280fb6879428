import QRCode from 'qrcode';

/** Four modules of quiet zone, as ISO/IEC 18004 wants it; a sixth of the code may be soiled. */
const LOOKS = { margin: 4, errorCorrectionLevel: 'M' } as const;
/** Wide enough to be printed a hand across. */
const PNG_PIXELS = 1200;

/** An address as a QR code that can be printed at any size. */
export function codeAsSvg(address: string): Promise<string> {
  return QRCode.toString(address, { ...LOOKS, type: 'svg' });
}

/** The same as a picture, for programs that take no SVG. */
export function codeAsPng(address: string): Promise<Buffer> {
  return QRCode.toBuffer(address, { ...LOOKS, type: 'png', width: PNG_PIXELS });
}
