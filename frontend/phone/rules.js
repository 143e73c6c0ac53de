// The rules and parts of a walk, compiled for the browser. Started when it is first asked, and then kept.
let started;

async function start() {
  const { dotnet } = await import(/* the server's own path, not bundled */ new URL("/gen/phone/dotnet.js", location.href).href);
  const runtime = await dotnet.create();
  await runtime.runMain();
  return (await runtime.getAssemblyExports("Nippers.Phone")).Nippers.Phone.Program;
}

export const rules = () => (started ??= start());

/** Asks as the page would ask the server. */
export async function ask(request) {
  return JSON.parse(await (await rules()).Ask(JSON.stringify(request)));
}
