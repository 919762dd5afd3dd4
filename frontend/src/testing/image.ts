/** The browser has this class; what runs tests of drawing does not. */
class Image {
  readonly data: Uint8ClampedArray;
  readonly width: number;
  readonly height: number;
  constructor(first: number | Uint8ClampedArray, second: number, third?: number) {
    this.width = typeof first === "number" ? first : second;
    this.height = typeof first === "number" ? second : (third ?? 0);
    this.data = typeof first === "number" ? new Uint8ClampedArray(first * second * 4) : first;
  }
}

export function withImages(): void {
  Object.assign(globalThis, { ImageData: Image });
}
