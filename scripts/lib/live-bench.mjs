/** A page at a large board that can run: 80 leads, four contactors that switch. */
export async function openLargeBench(base, instance) {
  const page = await (await instance.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(base);
  const id = await page.evaluate(async (exerciseId) => {
    const ask = (method, path, body) =>
      fetch(`/api${path}`, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      }).then((answer) => (answer.status === 204 ? null : answer.json()));
    await ask('POST', '/session', { login: 'brack', password: 'tidewater' });
    const reference = await ask('GET', `/exercises/${exerciseId}/reference`);
    for (const { id: classId } of await ask('GET', '/classes'))
      await ask('POST', `/classes/${classId}/assignments`, { exerciseId });
    await ask('POST', '/session', { login: 'brine', password: 'tidewater' });
    const exercises = await ask('GET', '/exercises');
    const { assigned } = exercises.find((one) => one.id === exerciseId);
    const attempt = await ask('POST', `/assignments/${assigned[0].id}/attempts`, {});
    for (let k = 0; k < 80; k += 1) {
      const wire = reference[k % reference.length];
      await ask('POST', `/attempts/${attempt.id}/log`, {
        seq: k + 1,
        entry: { kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire } },
      });
    }
    return attempt.id;
  }, 'blower-star-delta-reversing');
  await page.goto(`${base}/bench/${id}`);
  await page.locator('[data-lead]').nth(79).waitFor();
  await page.waitForTimeout(1000);
  return page;
}

/** Presses a button of the board with the pointer, and lets go of it. */
export async function press(page, tag, held = 150) {
  const box = await page.locator(`[data-handle="${tag} push"]`).boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.waitForTimeout(held);
  await page.mouse.up();
}
