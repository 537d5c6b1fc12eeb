import { BinaryBitmap, DecodeHintType, HybridBinarizer, MultiFormatReader, RGBLuminanceSource } from '@zxing/library';
import sharp from 'sharp';

function decode(pixels: Uint8ClampedArray, width: number, height: number): string {
  const reader = new MultiFormatReader();
  const hints = new Map<DecodeHintType, unknown>([[DecodeHintType.TRY_HARDER, true]]);
  return reader
    .decode(new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(pixels, width, height))), hints)
    .getText();
}

/** A strip of the output, turned by half where asked, made small enough for the decoder without blurring a module away. */
export async function readCode(
  bits: { data: Buffer; width: number; height: number },
  at: { left: number; top: number; width: number; height: number },
  upsideDown: boolean,
): Promise<string> {
  const cut = sharp(bits.data, {
    raw: { width: bits.width, height: bits.height, channels: 1 },
    limitInputPixels: false,
  });
  const { data, info } = await cut
    .extract(at)
    .rotate(upsideDown ? 180 : 0)
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return decode(new Uint8ClampedArray(data), info.width, info.height);
}
