import { chromium } from '@playwright/test';
import { BROWSER } from '../scripts/lib/browser.mjs';
const b=await chromium.launch(BROWSER); const p=await b.newPage({viewport:{width:1280,height:800}});
await p.goto('file:///tmp/pair.html'); await p.screenshot({path:'/tmp/shots/pair.png'}); await b.close();
