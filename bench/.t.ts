import { readFileSync } from 'node:fs';
import { planRun, run } from '../core/engine';
const d=JSON.parse(readFileSync('demo/inspection-lift.json','utf8'));
const p=planRun(d,{id:'',name:'',frames:181,until:'stop to stop'});
for(let i=0;i<6;i++){const t=performance.now(); const r=run(p.compiled,p.options,p.start); console.log((performance.now()-t).toFixed(1), r.frames)}
