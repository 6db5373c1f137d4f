import { chromium } from '@playwright/test';
import fs from 'node:fs';
const base='http://127.0.0.1:4600';const W='/w/brindlepeak';
const pages={front:'/',overview:W+'/overview',alignment:W+'/alignment',panel:W+'/alignment?open=scree-log',grid:W+'/alignment?view=grid',registry:W+'/registry?q=a&package=dogwatch-cron',upgrades:W+'/upgrades?open=moraine',shared:W+'/shared',centralise:W+'/centralise',trace:W+'/trace?package=tarn-json',weights:W+'/trace/weights',findings:W+'/findings?cause=package+tarn-json',projects:W+'/projects',project:W+'/projects/apps/pass-office',diff:W+'/diff',lockfile:W+'/lockfile?q=tarn-json',drift:W+'/drift',machines:W+'/machines',archives:W+'/archives',merge:W+'/merge?from=desk-printer',team:W+'/team',journal:W+'/journal',bringin:'/w/wendholm/bring-in'};
const only=(process.argv[3]??'').split(',').filter(Boolean);
const kinds={wide:[1920,1080,'light'],night:[1280,800,'dark'],phone:[390,844,'light'],day:[1280,800,'light']};
const [k]=[process.argv[2]];const [w,h,scheme]=kinds[k];
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--disable-gpu']});
const c=await b.newContext({viewport:{width:w,height:h},colorScheme:scheme,reducedMotion:'reduce',locale:'en-GB',timezoneId:'UTC'});
const p=await c.newPage();p.setDefaultTimeout(60000);
await p.goto(base+'/');await p.getByLabel('Name').fill('platform');await p.getByLabel('Password').fill('brindlepeak demo');await p.keyboard.press('Enter');
await p.getByRole('link',{name:/brindlepeak/i}).first().waitFor();
for(const [n,url] of Object.entries(pages)){ if(only.length&&!only.includes(n))continue;
 await p.goto(base+url);try{await p.waitForLoadState('networkidle',{timeout:20000});}catch{}
 await p.waitForTimeout(600);
 const over=await p.evaluate(()=>document.documentElement.scrollWidth-innerWidth);
 if(over>0)console.log('WIDER',n,over);
 await p.screenshot({path:`/tmp/shots/${k}-${n}.png`,animations:'disabled'});
}
await b.close();
