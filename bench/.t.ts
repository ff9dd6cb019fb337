import { compile } from '../core/kinematics/index';
import { row } from '../core/testing/designs';
const d=row(Array.from({ length: 150 }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const)))).design;
for(let i=0;i<5;i++){const s=performance.now();compile(d);console.log(performance.now()-s)}
for(let i=0;i<60;i++)compile(d);
