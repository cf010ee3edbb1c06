// Draws the pieces that generated code says, on a canvas, from the sheet that was handed off with it.

/** All sheets and pictures that pieces may be cut from, by name: `await picturesOf(pell, "./made/")`. */
export async function picturesOf(pell, folder) {
  const files = new Set([...pell.SHEET_FILES, ...pell.RULE_INFOS.map(each => each.picture).filter(Boolean)]);
  const found = new Map();
  await Promise.all([...files].map(async file => {
    const image = new Image();
    image.src = folder + file;
    await image.decode();
    found.set(file, image);
  }));
  return found;
}

/** The pieces of a figure, the puppet standing at x, y. */
export function drawFigure(on, pell, pictures, pieces, x = 0, y = 0) {
  for (let at = 0; at < pieces.length;) {
    const first = pieces[at], together = [first];
    // The pieces of one layer are the layer, added up by their shares.
    while (!first.prop && pieces[++at]?.layer === first.layer && !pieces[at].prop) together.push(pieces[at]);
    if (first.prop) at++;
    on.globalAlpha = first.weight;
    if (together.length === 1 && !first.tint) {
      on.globalAlpha = first.weight * first.share;
      drawPiece(on, pell, pictures, first, x, y);
    } else {
      drawMixed(on, pell, pictures, together, x, y);
    }
    on.globalAlpha = 1;
  }
}

function drawPiece(on, pell, pictures, {picture, file}, x, y) {
  const image = pictures.get(file ?? pell.SHEET_FILES[picture.sheet]);
  if (!image) return;
  const [from, wide, high] = file ? [[0, 0], image.width, image.height]
    : [[picture.x, picture.y], picture.width, picture.height];
  const across = wide * picture.scale, down = high * picture.scale;
  const left = x + picture.left - (file ? across / 2 : 0), top = y + picture.top - (file ? down / 2 : 0);
  on.save();
  on.translate(picture.flipped ? left + across : left, top);
  if (picture.flipped) on.scale(-1, 1);
  on.drawImage(image, ...from, wide, high, 0, 0, across, down);
  on.restore();
}

function drawMixed(on, pell, pictures, pieces, x, y) {
  const left = Math.min(...pieces.map(each => each.picture.left)), top = Math.min(...pieces.map(each => each.picture.top));
  const right = Math.max(...pieces.map(each => each.picture.left + each.picture.width * each.picture.scale));
  const bottom = Math.max(...pieces.map(each => each.picture.top + each.picture.height * each.picture.scale));
  const mixed = new OffscreenCanvas(Math.ceil(right - left), Math.ceil(bottom - top)), within = mixed.getContext("2d");
  within.imageSmoothingEnabled = false;
  within.globalCompositeOperation = "lighter";
  for (const each of pieces) {
    within.globalAlpha = each.share;
    drawPiece(within, pell, pictures, each, -left, -top);
  }
  const {tint} = pieces[0];
  if (tint) {
    within.globalAlpha = 1;
    within.globalCompositeOperation = "source-atop";
    within.fillStyle = `rgba(${tint.red}, ${tint.green}, ${tint.blue}, ${tint.strength})`;
    within.fillRect(0, 0, mixed.width, mixed.height);
  }
  on.drawImage(mixed, x + left, y + top);
}
