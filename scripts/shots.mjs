import { chromium } from '@playwright/test';
const A='http://127.0.0.1:4600';
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--disable-gpu']});
const c=await b.newContext({viewport:{width:1280,height:800},locale:'en-GB'});
const p=await c.newPage();
await p.goto(A+'/sign-in');await p.getByLabel('Name').fill('odile');await p.getByLabel('Password').fill('saltmarsh-demo');await p.getByRole('button',{name:'Sign in'}).click();await p.waitForURL('**/floor');
const change=async(n,ch)=>{const {version}=await (await p.request.get(`${A}/tickets/${n}/plan`)).json();const r=await p.request.post(`${A}/tickets/${n}/change`,{headers:{origin:A},data:{version,once:crypto.randomUUID(),change:ch}});if(r.status()!==200)console.log(r.status(),await r.text())};
// open tickets
await p.goto(A+'/floor');
const nums=[...new Set(await p.locator('main a.figure').allTextContents())];
console.log(nums.join(' '));
// 1 path ticket: find one with path probes; take a tern-9 ticket by making new
const take=async(body)=>{const t=await p.request.post(A+'/counter/take-in',{});return t.status()};
const n=nums[2];
await p.goto(`${A}/tickets/${n}`);
await change(n,{verb:'look',places:['tongue'],state:'burnt'});
await p.goto(`${A}/tickets/${n}`);await p.getByRole('tab',{name:'Check board'}).click();await p.waitForTimeout(2500);
await p.screenshot({path:'/tmp/s1.png'});
// failed repair with reading after
const m=nums[3];
await p.goto(`${A}/tickets/${m}`);
await change(m,{verb:'attempt',operation:'replace-port',technician:'ines',minutes:30,resolved:false});
await change(m,{verb:'plug-in',stage:'after-repair',orientation:'a',volts:5.05,amps:0});
await change(m,{verb:'attempt',operation:'reassemble',technician:'ines',minutes:9,resolved:false,part:true});
await p.goto(`${A}/tickets/${m}`);await p.getByRole('tab',{name:'Repair'}).click();await p.waitForTimeout(3000);
await p.screenshot({path:'/tmp/s2.png',fullPage:true});
// flat pack
const k=nums[4];
await change(k,{verb:'battery',stage:'diagnosis',volts:0.02,celsius:52});
await p.goto(`${A}/tickets/${k}`);await p.getByRole('tab',{name:'Plug in'}).click();await p.waitForTimeout(2500);
await p.screenshot({path:'/tmp/s3.png'});
await p.goto(A+'/workbook?tool=pack');await p.waitForTimeout(800);await p.screenshot({path:'/tmp/s4.png'});
await p.goto(A+'/settings/audit');await p.waitForTimeout(500);await p.screenshot({path:'/tmp/s5.png'});
await p.goto(A+'/settings');await p.waitForTimeout(500);await p.screenshot({path:'/tmp/s6.png'});
await b.close();
