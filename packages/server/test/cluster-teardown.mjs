export default function teardown() {
  globalThis.contactumCluster?.stop();
}
