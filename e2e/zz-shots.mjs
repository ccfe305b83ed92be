import { chromium } from '@playwright/test';
import { BROWSER } from '../scripts/lib/browser.mjs';
const base='http://127.0.0.1:4190';
const browser=await chromium.launch(BROWSER);
const sign=async(login)=>{const c=await browser.newContext({viewport:{width:1280,height:800}});const p=await c.newPage();await p.goto(base);await p.getByLabel('Name').fill(login);await p.getByLabel('Password').fill('tidewater');await p.getByRole('button',{name:'Sign in'}).click();await p.waitForTimeout(1500);return p;};
const todo=JSON.parse(process.argv[2]);
const pages={};
for(const {who,url,name,act,wait} of todo){
  const p=pages[who]??=await sign(who);
  if(url) await p.goto(base+url);
  await p.waitForTimeout(wait??2500);
  for(const a of act??[]) { try { await eval(`(async(p)=>{${a}})`)(p);} catch(e){console.log(name,a,e.message.split('\n')[0]);} await p.waitForTimeout(800);}
  await p.screenshot({path:`/tmp/shots/${name}.png`});
  console.log(name,p.url());
}
await browser.close();
