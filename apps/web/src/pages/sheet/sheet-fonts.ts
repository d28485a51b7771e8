import latin from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff?url';
import latinBold from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff?url';
import further from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff?url';
import furtherBold from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff?url';
import cyrillic from '@fontsource/noto-sans/files/noto-sans-cyrillic-400-normal.woff?url';
import cyrillicBold from '@fontsource/noto-sans/files/noto-sans-cyrillic-700-normal.woff?url';
import cyrillicExtended from '@fontsource/noto-sans/files/noto-sans-cyrillic-ext-400-normal.woff?url';
import cyrillicExtendedBold from '@fontsource/noto-sans/files/noto-sans-cyrillic-ext-700-normal.woff?url';
import greek from '@fontsource/noto-sans/files/noto-sans-greek-400-normal.woff?url';
import greekBold from '@fontsource/noto-sans/files/noto-sans-greek-700-normal.woff?url';
import greekExtended from '@fontsource/noto-sans/files/noto-sans-greek-ext-400-normal.woff?url';
import greekExtendedBold from '@fontsource/noto-sans/files/noto-sans-greek-ext-700-normal.woff?url';
import vietnamese from '@fontsource/noto-sans/files/noto-sans-vietnamese-400-normal.woff?url';
import vietnameseBold from '@fontsource/noto-sans/files/noto-sans-vietnamese-700-normal.woff?url';
import type { Sheet } from './sheet-facts.ts';
import type { SheetFonts } from './sheet-pdf.ts';

const bytes = async (address: string): Promise<Uint8Array> =>
  new Uint8Array(await (await fetch(address)).arrayBuffer());

/** Letters that the font of the interface has not, but another that ships has: Greek, Cyrillic, Vietnamese. */
const ELSEWHERE = /[\u0300-\u052f\u1c80-\u1c8f\u1ea0-\u1fff]/;

/** The fonts that a printed sheet needs, from this server. */
export async function loadFonts(sheet: Sheet): Promise<SheetFonts> {
  const elsewhere = ELSEWHERE.test(
    JSON.stringify({ ...sheet, marks: sheet.marks.map(({ picture: _, ...mark }) => mark) }),
  );
  const [plain, bold] = elsewhere
    ? [
        [cyrillic, cyrillicExtended, greek, greekExtended, vietnamese],
        [cyrillicBold, cyrillicExtendedBold, greekBold, greekExtendedBold, vietnameseBold],
      ]
    : [[], []];
  return {
    plain: await Promise.all([latin, further, ...plain].map(bytes)),
    bold: await Promise.all([latinBold, furtherBold, ...bold].map(bytes)),
  };
}
