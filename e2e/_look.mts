import { chromium } from '@playwright/test';
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox']});
const p=await b.newPage({viewport:{width:1280,height:800}});
const B='http://127.0.0.1:8470';
await p.goto(B); await p.getByLabel(/name/i).first().fill('ruta'); await p.getByLabel(/password/i).first().fill('slate-roof-shop'); await p.getByRole('button',{name:/sign in/i}).click(); await p.waitForTimeout(1500);
const shots=JSON.parse(process.argv[2]!) as [string,string,boolean?][];
for (const [path,file,full] of shots) { await p.goto(B+path); await p.waitForTimeout(2500); await p.screenshot({path:'/tmp/'+file+'.png',fullPage:!!full}); }
await b.close();
