import decodeQR from 'qr/decode.js';

/** Finds a QR code in a picture, away from the page: a picture of any size does not stop it. */
const MOST_SIDE = 1_400;

self.onmessage = async ({ data }: MessageEvent<Blob | ImageBitmap>) => {
  try {
    const bitmap = data instanceof Blob ? await createImageBitmap(data) : data;
    const scale = Math.min(1, MOST_SIDE / Math.max(bitmap.width, bitmap.height));
    const width = Math.round(bitmap.width * scale);
    const height = Math.round(bitmap.height * scale);
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0, width, height);
    bitmap.close();
    const image = context.getImageData(0, 0, width, height);
    self.postMessage({ text: decodeQR({ width, height, data: image.data }) });
  } catch {
    self.postMessage({ text: null });
  }
};
