// Draws meshes of a .glb on a canvas, triangle by triangle with a depth for each pixel: no package, no graphics card.

const LIGHT = [0.45, 0.75, -0.48];
const toScreen = part => part <= 0.0031308 ? 12.92 * part : 1.055 * part ** (1 / 2.4) - 0.055;

/** The texture of a material as pixels, or null. */
async function textureOf(glb, material) {
  const at = material?.pbrMetallicRoughness?.baseColorTexture;
  if (!at) return null;
  const image = glb.json.images[glb.json.textures[at.index].source];
  const view = glb.json.bufferViews[image.bufferView], start = view.byteOffset || 0;
  const bitmap = await createImageBitmap(new Blob([glb.bytes.slice(start, start + view.byteLength)],
    {type: image.mimeType}));
  const on = new OffscreenCanvas(bitmap.width, bitmap.height).getContext("2d");
  on.drawImage(bitmap, 0, 0);
  return on.getImageData(0, 0, bitmap.width, bitmap.height);
}

/** The meshes of a .glb, read once. `boneOf` gives the number of the bone that a node is. */
export async function meshesOf(glb, boneOf) {
  const found = [];
  for (const [number, node] of glb.json.nodes.entries()) {
    if (node.mesh === undefined) continue;
    const skin = node.skin === undefined ? null : glb.json.skins[node.skin];
    for (const primitive of glb.json.meshes[node.mesh].primitives) {
      const rows = name => name in primitive.attributes ? glb.numbers(primitive.attributes[name]) : null;
      const material = glb.json.materials?.[primitive.material];
      const places = rows("POSITION"), over = rows("TEXCOORD_0"), joints = rows("JOINTS_0"), weights = rows("WEIGHTS_0");
      const triangles = glb.numbers(primitive.indices);
      found.push({
        places: Float32Array.from(places.flat()), over: over && Float32Array.from(over.flat()),
        joints: joints && Uint16Array.from(joints.flat()), weights: weights && Float32Array.from(weights.flat()),
        triangles: Uint32Array.from(triangles.flat()), seen: new Float32Array(3 * places.length),
        color: (material?.pbrMetallicRoughness?.baseColorFactor || [1, 1, 1]).slice(0, 3).map(part => 255 * toScreen(part)),
        texture: await textureOf(glb, material), bone: boneOf(number),
        skin: skin && {bones: skin.joints.map(boneOf), binds: glb.numbers(skin.inverseBindMatrices)},
      });
    }
  }
  return found;
}

/** Where a mesh's bones take its vertices: twelve numbers each. `world` has a matrix for each bone. */
function takenBy(mesh, world) {
  if (!mesh.skin) return [world[mesh.bone]];
  return mesh.skin.bones.map((bone, at) => {
    // Bind matrices are column by column.
    const bind = mesh.skin.binds[at], m = world[bone], made = new Float64Array(12);
    for (let row = 0; row < 3; row += 1) {
      for (let column = 0; column < 4; column += 1) {
        made[4 * row + column] = m[4 * row] * bind[4 * column] + m[4 * row + 1] * bind[4 * column + 1]
          + m[4 * row + 2] * bind[4 * column + 2] + m[4 * row + 3] * bind[4 * column + 3];
      }
    }
    return made;
  });
}

/** Skin a mesh, and put what `see` makes of its vertices into `mesh.seen`. */
function posed(mesh, world, see) {
  const bones = takenBy(mesh, world), {places, joints, weights, seen} = mesh;
  for (let vertex = 0; 3 * vertex < places.length; vertex += 1) {
    const x = places[3 * vertex], y = places[3 * vertex + 1], z = places[3 * vertex + 2];
    let px = 0, py = 0, pz = 0;
    for (let at = 0; at < (mesh.skin ? 4 : 1); at += 1) {
      const weight = mesh.skin ? weights[4 * vertex + at] : 1;
      if (weight === 0) continue;
      const m = bones[mesh.skin ? joints[4 * vertex + at] : 0];
      px += weight * (m[0] * x + m[1] * y + m[2] * z + m[3]);
      py += weight * (m[4] * x + m[5] * y + m[6] * z + m[7]);
      pz += weight * (m[8] * x + m[9] * y + m[10] * z + m[11]);
    }
    see(px, py, pz, seen, 3 * vertex);
  }
}

/** Draws on a canvas; nearer is more. */
export class Picture {
  constructor(canvas) {
    this.context = canvas.getContext("2d");
    this.image = this.context.createImageData(canvas.width, canvas.height);
    this.pixels = new Uint32Array(this.image.data.buffer);
    this.depths = new Float32Array(canvas.width * canvas.height);
  }

  begin(sky = 0xFF38221C, ground = 0xFF2C2E3A, horizon = 0.86) {
    const edge = Math.floor(this.image.height * horizon) * this.image.width;
    this.pixels.fill(sky, 0, edge);
    this.pixels.fill(ground, edge);
    this.depths.fill(-Infinity);
  }

  /** Draw meshes. `see(x, y, z, into, at)` puts where a place of the world is seen, and how near, into an array. */
  draw(meshes, world, see) {
    for (const mesh of meshes) {
      posed(mesh, world, see);
      for (let at = 0; at < mesh.triangles.length; at += 3) this.#triangle(mesh, at);
    }
  }

  #triangle(mesh, at) {
    const {width, height} = this.image, {seen, triangles, texture, over, color} = mesh;
    const ia = triangles[at], ib = triangles[at + 1], ic = triangles[at + 2];
    const ax = seen[3 * ia], ay = seen[3 * ia + 1], az = seen[3 * ia + 2];
    const ux = seen[3 * ib] - ax, uy = seen[3 * ib + 1] - ay, uz = seen[3 * ib + 2] - az;
    const vx = seen[3 * ic] - ax, vy = seen[3 * ic + 1] - ay, vz = seen[3 * ic + 2] - az;
    const whole = ux * vy - vx * uy;
    if (Math.abs(whole) < 1e-9) return;
    const left = Math.max(0, Math.floor(ax + Math.min(0, ux, vx))), right = Math.min(width - 1, Math.ceil(ax + Math.max(0, ux, vx)));
    const top = Math.max(0, Math.floor(ay + Math.min(0, uy, vy))), bottom = Math.min(height - 1, Math.ceil(ay + Math.max(0, uy, vy)));
    // Flat light: how far the triangle leans to it.
    const nx = uy * vz - uz * vy, ny = uz * vx - ux * vz, nz = ux * vy - uy * vx;
    const lean = Math.abs(nx * LIGHT[0] - ny * LIGHT[1] + nz * LIGHT[2]) / (Math.hypot(nx, ny, nz) || 1);
    const shade = 0.5 + 0.5 * Math.min(1, lean);
    for (let y = top; y <= bottom; y += 1) {
      for (let x = left; x <= right; x += 1) {
        const px = x + 0.5 - ax, py = y + 0.5 - ay;
        const wb = (px * vy - vx * py) / whole, wc = (ux * py - px * uy) / whole;
        if (wb < 0 || wc < 0 || wb + wc > 1) continue;
        const depth = az + wb * uz + wc * vz, pixel = y * width + x;
        if (depth <= this.depths[pixel]) continue;
        this.depths[pixel] = depth;
        let wool = shade;
        if (texture && over) {
          const wa = 1 - wb - wc;
          const u = wa * over[2 * ia] + wb * over[2 * ib] + wc * over[2 * ic];
          const v = wa * over[2 * ia + 1] + wb * over[2 * ib + 1] + wc * over[2 * ic + 1];
          const row = Math.floor((v - Math.floor(v)) * texture.height), column = Math.floor((u - Math.floor(u)) * texture.width);
          wool *= texture.data[4 * (row * texture.width + column)] / 255;
        }
        this.pixels[pixel] = 0xFF000000 | (color[2] * wool & 255) << 16 | (color[1] * wool & 255) << 8 | color[0] * wool & 255;
      }
    }
  }

  end() { this.context.putImageData(this.image, 0, 0); }
}
