/** npm run drawing: draws docs/architecture.svg, the rooms of each floor and who imports whom, from the imports themselves. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './lib/setup.mjs';

const FLOORS = [
  {
    name: 'core: computation and nothing else',
    from: 'core/src',
    rooms: 'units numeric limits duty measure wear inspect torque kits plan simulate',
  },
  {
    name: 'contract: what crosses the wire, who may do what, words',
    from: 'contract/src',
    rooms:
      'people register gauges telematics inspections forecasts specifications jobs parts plan imports archive words',
  },
  {
    name: 'server/platform: knows no trade',
    from: 'server/src/platform',
    rooms: 'db auth events command jobs compute documents http',
  },
  {
    name: 'server/features: one room a capability',
    from: 'server/src/features',
    rooms: 'people register gauges forecasts inspections telematics specifications jobs parts plan imports archive',
  },
  {
    name: 'web/screens: the same rooms',
    from: 'web/src/screens',
    rooms: 'people telematics register gauges plan parts jobs inspections forecasts specifications imports archive',
  },
].map((floor) => ({ ...floor, rooms: floor.rooms.split(' ') }));

/** Rooms that each room of a floor imports, of the same floor. */
function importsOf({ from, rooms }) {
  const found = new Map(rooms.map((room) => [room, new Set()]));
  for (const room of rooms) {
    const folder = path.join(ROOT, from, room);
    for (const file of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
      if (!/\.tsx?$/.test(file) || /\.test\./.test(file)) continue;
      const text = readFileSync(path.join(folder, file), 'utf8');
      for (const [, spec] of text.matchAll(/from '(\.[^']+)'/g)) {
        const to = path
          .relative(path.join(ROOT, from), path.resolve(folder, path.dirname(file), spec))
          .split(path.sep)[0];
        if (to !== room && found.has(to)) found.get(room).add(to);
      }
    }
  }
  return found;
}

const [BOX, GAP, LEFT, ROW] = [118, 18, 20, 190];
const at = (index) => LEFT + index * (BOX + GAP);
const lines = [];
FLOORS.forEach((floor, f) => {
  const top = 40 + f * ROW;
  const found = importsOf(floor);
  lines.push(`<text x="${LEFT}" y="${top - 12}" class="floor">${floor.name}</text>`);
  floor.rooms.forEach((room, index) => {
    lines.push(
      `<rect x="${at(index)}" y="${top}" width="${BOX}" height="34" rx="3"/>`,
      `<text x="${at(index) + BOX / 2}" y="${top + 22}" text-anchor="middle">${room}</text>`,
    );
    for (const other of found.get(room)) {
      const to = floor.rooms.indexOf(other);
      // Arrows run under the boxes, from the right end of who imports to the left end of who is imported.
      const [x1, x2] = [at(index) + BOX * 0.35, at(to) + BOX * 0.65];
      const depth = top + 34 + 14 + Math.abs(index - to) * 13;
      const wrong = to > index ? ' class="wrong"' : '';
      lines.push(
        `<path d="M${x1} ${top + 34} C${x1} ${depth} ${x2} ${depth} ${x2} ${top + 36}" marker-end="url(#tip)"${wrong}/>`,
      );
    }
  });
});
const width = at(Math.max(...FLOORS.map(({ rooms }) => rooms.length))) + LEFT;
const height = 40 + FLOORS.length * ROW;
writeFileSync(
  path.join(ROOT, 'docs/architecture.svg'),
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="14">
<style>rect{fill:#f5f3ee;stroke:#26282a}path{fill:none;stroke:#4f6373}.wrong{stroke:#98341f;stroke-width:2}.floor{font-weight:600}</style>
<defs><marker id="tip" markerWidth="8" markerHeight="8" refX="4" refY="4" orient="auto"><path d="M1 1 L6 4 L1 7" /></marker></defs>
<rect width="100%" height="100%" style="fill:#ffffff;stroke:none"/>
${lines.join('\n')}
</svg>
`,
);
