import { readFileSync, readdirSync, writeFileSync, mkdtempSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { open, ready, strengthBody, suggestedSize, strengthModel, STEEL, elementsOf, loadSheet, analyse } from '../core/engine';
import { writeGeometry, readMesh, writeDeck, readAnswer, greatestStress } from '../core/formats/index';
for (const f of readdirSync('demo')) {
  const d: any = JSON.parse(readFileSync('demo/' + f, 'utf8'));
  const w = analyse(d);
  for (const m of d.members) {
    const b = strengthBody(w.compiled, m.id);
    if (!b || !b.parts.length) { console.log(f, m.name, b ? 'no parts' : 'frame'); continue; }
    const size = suggestedSize(b);
    const t0 = Date.now();
    writeFileSync('/tmp/g/x.geo', writeGeometry(b.parts.flatMap((p) => p.solids), size));
    let out = '';
    try { out = execFileSync('gmsh', ['-3', '-format', 'msh22', '-v', '2', '-o', 'x.msh', 'x.geo'], { cwd: '/tmp/g', stdio: 'pipe', timeout: 60000, killSignal: 'SIGKILL' }).toString(); } catch (e: any) { console.log(f, m.name, 'GMSH', String(e.stdout).slice(-300), e.signal, size, elementsOf(b.volume, size)); continue; }
    const t1 = Date.now();
    const mesh = readMesh(readFileSync('/tmp/g/x.msh', 'utf8'))!;
    const sheet = loadSheet(w.forces, m.id, m.id, false);
    const model = strengthModel(b, mesh, sheet.lines, { size, material: STEEL });
    if ('sentence' in model) { console.log(f, '|', m.name, '|', size, mesh.tets.length / 10, t1 - t0, model.sentence); continue; }
    const deck = writeDeck(model);
    writeFileSync('/tmp/g/x.inp', deck);
    const t2 = Date.now();
    let a: any;
    try { execFileSync('ccx', ['x'], { cwd: '/tmp/g', stdio: 'pipe', timeout: 60000, killSignal: 'SIGKILL' }); a = readAnswer(readFileSync('/tmp/g/x.frd', 'utf8'), readFileSync('/tmp/g/x.dat', 'utf8'), mesh.points.length / 3); } catch (e: any) { console.log(f, m.name, 'CCX', String(e.stdout).slice(-300)); continue; }
    const s = greatestStress(a);
    console.log(f, '|', m.name, '|', size, Math.round(elementsOf(b.volume, size)), mesh.tets.length / 10, 'gmsh', t1 - t0, 'ccx', Date.now() - t2, 'stress', s.stress.toPrecision(3), 'carried', a.carried.toPrecision(2), 'most', Math.max(0, ...sheet.lines.map((l) => Math.hypot(...l.force))).toPrecision(3), 'away', model.sets.map((x) => x.away.toFixed(0)).join(','));
  }
}
