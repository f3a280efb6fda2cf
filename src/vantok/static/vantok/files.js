// Files of entries that wait: this device's own store, by the entry's name.
const STORE = "pictures";

function opened() {
  return new Promise((done, failed) => {
    const asked = indexedDB.open("vantok-files", 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore(STORE);
    asked.onsuccess = () => done(asked.result);
    asked.onerror = () => failed(asked.error);
  });
}
async function act(mode, what) {
  const there = await opened();
  try {
    return await new Promise((done, failed) => {
      const within = there.transaction(STORE, mode), asked = what(within.objectStore(STORE));
      within.oncomplete = () => done(asked.result);
      within.onerror = within.onabort = () => failed(within.error);
    });
  } finally { there.close(); }
}
export const putFile = (name, file) => act("readwrite", (store) => store.put(file, name));
export const fileOf = (name) => act("readonly", (store) => store.get(name));
export const dropFile = (name) => act("readwrite", (store) => store.delete(name));
