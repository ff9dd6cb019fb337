import { readFileSync, readdirSync } from 'node:fs';
import { instantOf, planRun, run, quantities } from '../core/engine';
const ds:any[]=readdirSync('demo').filter(f=>f.endsWith('.json')).map(f=>JSON.parse(readFileSync('demo/'+f,'utf8')));
for(const d of ds) for (const letGo of [false,true]){ const p=planRun(d,{id:'',name:'',letGo,frames:21}); const r=run(p.compiled,p.options,p.start);
 let worst=0,where='',n=0; const seen=new Map<string,number>();
 for(let f=0;f<r.frames;f++){ const i=instantOf(p.compiled,r,f);
  for(const c of p.compiled.structure.coordinates){ if(c.order) continue; const x=i.reaction(c.joint.id); if(!x) continue; n++;
   const o=6*(f*r.coordinates+c.index); const s=c.sign; const a=[...x.force,...x.moment]; let e=0,m=1e-3; for(let k=0;k<6;k++){e=Math.max(e,Math.abs(a[k]-s*r.reaction[o+k])); m=Math.max(m,Math.abs(r.reaction[o+k]));}
   if(e/m>1e-6) seen.set(c.joint.id,(seen.get(c.joint.id)??0)+1);
   if(e/m>worst){worst=e/m;where=`${c.joint.id} f${f} t=${r.time[f].toFixed(2)}`} } }
 console.log(d.name,letGo?'let go':'led',r.frames,'worst',worst.toExponential(2),where,[...seen].slice(0,5).join(' '), r.events.slice(0,3).map(e=>e.time.toFixed(2)+' '+e.kind).join('; '));
}
