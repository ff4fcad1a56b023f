import { ClipMeter } from '@pocket-twin/core/measure/clipMeter.ts';
import { lookAgain } from '@pocket-twin/core/measure/secondLook.ts';
import { Chance } from './chance.ts';
import { makeCase } from './cases.ts';
import { RATE } from './sources.ts';
const seed0=Number(process.argv[2]??1), n=Number(process.argv[3]??20), want=process.argv[4];
for(let i=0;i<n;i++){
  const t0=performance.now();
  const c=makeCase(new Chance(seed0*100000+i));
  if(want && !c.what.startsWith(want)) continue;
  const t1=performance.now();
  const meter=new ClipMeter(RATE,2,{kind:'float',bits:64});
  const bytes=new Float64Array(c.sides[0].length*2); c.sides[0].forEach((x,k)=>{bytes[2*k]=x;bytes[2*k+1]=c.sides[1][k]??0;});
  meter.push(new Uint8Array(bytes.buffer));
  const m=meter.finish();
  const t2=performance.now();
  const read=async(start:number,frames:number)=>c.sides.map(s=>{const o=new Float64Array(frames);for(let k=0;k<frames;k++){const at=start+k; if(at>=0&&at<s.length)o[k]=s[at];}return o;});
  const p=await lookAgain(m,[1,2],read);
  const t3=performance.now();
  const f=(x:number|undefined,d=1)=>x===undefined?'-':x.toFixed(d);
  console.log(`${String(i).padStart(3)} ${c.what.padEnd(46)} ${p?`st${p.stretches}/${p.pauses} plain ${f(p.plainNullDb)} lvl ${f(p.levelNullDb)} al ${f(p.alignedNullDb)} ma ${f(p.matchedNullDb)} | d ${f(p.delaySamples,2)} h ${f(p.arrival.height,2)} pr ${f(p.arrival.prominence,0)} g ${f(p.gainDb)} LfR ${f(p.leftFromRightDb)} RfL ${f(p.rightFromLeftDb)} inc ${f(p.incoherent,2)} | Lean L ${p.leaning.left?f(p.leaning.left.levelDifferenceDb)+'@'+f(p.leaning.left.delaySamples)+'p'+f(p.leaning.left.prominence,0)+'n'+p.leaning.left.stretches:'-'} R ${p.leaning.right?f(p.leaning.right.levelDifferenceDb)+'@'+f(p.leaning.right.delaySamples)+'p'+f(p.leaning.right.prominence,0)+'n'+p.leaning.right.stretches:'-'}`:'none'} ${c.disguise?`TRUTH d ${f(c.disguise.delaySamples,2)} g ${f(c.disguise.gainDb)}`:''} [gen ${f(t1-t0,0)} meter ${f(t2-t1,0)} look ${f(t3-t2,0)}]`);
}
