/** How large a picture is, in pixels. */
export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/**
 * The size of a picture by its first bytes, without unpacking it: PNG (W3C, *Portable Network Graphics*, 11.2.1), JPEG (ITU-T T.81, B.2.2: the
 * frame header) or WebP (RFC 9649, section 2). Undefined where it is none of them.
 */
export function pictureSize(bytes: Uint8Array): PictureSize | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  switch (pictureType(bytes)) {
    case 'image/png':
      return { width: view.getUint32(16), height: view.getUint32(20) };
    case 'image/jpeg':
      return jpegSize(view);
    case 'image/webp':
      return webpSize(view);
    default:
      return undefined;
  }
}

/** What kind of picture bytes begin as, by the names of IANA's media types; undefined for any that a page may not be able to show. */
export function pictureType(bytes: Uint8Array): 'image/png' | 'image/jpeg' | 'image/webp' | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length >= 24 && view.getUint32(0) === 0x89504e47) return 'image/png';
  if (bytes.length >= 4 && view.getUint16(0) === 0xffd8) return 'image/jpeg';
  if (bytes.length >= 30 && view.getUint32(0) === 0x52494646 && view.getUint32(8) === 0x57454250) return 'image/webp';
  return undefined;
}

/** Markers of a JPEG's frame header; those between them that are none. */
const isFrame = (marker: number): boolean =>
  marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;

function jpegSize(view: DataView): PictureSize | undefined {
  for (let at = 2; at + 9 <= view.byteLength;) {
    if (view.getUint8(at) !== 0xff) return undefined;
    const marker = view.getUint8(at + 1);
    if (isFrame(marker)) return { width: view.getUint16(at + 7), height: view.getUint16(at + 5) };
    at += marker === 0xff ? 1 : 2 + view.getUint16(at + 2);
  }
  return undefined;
}

function webpSize(view: DataView): PictureSize | undefined {
  const three = (at: number): number => view.getUint16(at, true) + (view.getUint8(at + 2) << 16);
  switch (view.getUint32(12)) {
    case 0x56503858: // VP8X
      return { width: 1 + three(24), height: 1 + three(27) };
    case 0x5650384c: {
      // VP8L
      const bits = view.getUint32(21, true);
      return { width: 1 + (bits & 0x3fff), height: 1 + ((bits >>> 14) & 0x3fff) };
    }
    case 0x56503820: // VP8
      return { width: view.getUint16(26, true) & 0x3fff, height: view.getUint16(28, true) & 0x3fff };
    default:
      return undefined;
  }
}
