import { chromium } from '@playwright/test';import fs from 'node:fs';
const [out,width,cols,...files]=process.argv.slice(2);
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--disable-gpu']});
const p=await b.newPage({viewport:{width:Number(width),height:400}});
await p.setContent(`<body style="margin:0;background:#888;display:grid;grid-template-columns:repeat(${cols},1fr);gap:6px">${files.map(f=>`<img style="width:100%" src="data:image/png;base64,${fs.readFileSync(f).toString('base64')}">`).join('')}</body>`);
await p.waitForLoadState('load');await p.screenshot({path:out,fullPage:true});await b.close();
