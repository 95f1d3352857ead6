// A server for a script: started, and its address once it says it; whatever else it prints goes to `printed`.
import { spawn } from "node:child_process";

export async function served(binary, args, env = process.env, printed = () => {}) {
  const server = spawn(binary, args, { stdio: ["ignore", "pipe", "inherit"], env });
  const url = await new Promise((resolve) => {
    server.stdout.on("data", (chunk) => {
      printed(String(chunk));
      const at = String(chunk).match(/http:\/\/\S+/);
      if (at) resolve(at[0].replace(/\/$/, ""));
    });
  });
  return { server, url };
}

// Whatever is sorted, at a share of it.
export const at = (sorted, share) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];

// A line for each kind of what was timed, milliseconds.
export function printTimes(took) {
  for (const [kind, all] of Object.entries(took)) {
    const sorted = all.toSorted((a, b) => a - b);
    console.log(`${kind.padEnd(14)} ${String(all.length).padStart(5)}  median ${at(sorted, 0.5).toFixed(1)}  95 % ${at(sorted, 0.95).toFixed(1)}  99 % ${at(sorted, 0.99).toFixed(1)}  slowest ${at(sorted, 1).toFixed(1)}`);
  }
}

// Does work every so many milliseconds until then. What is done side by side does not tick together: each begins somewhere.
export const everyUntil = (until) => async (ms, work) => {
  for (let next = performance.now() + Math.random() * ms; next < until; next += ms) {
    await new Promise((resolve) => { setTimeout(resolve, Math.max(0, next - performance.now())); });
    await work();
  }
};

// Posts a form as one of the pages does.
export const poster = (url) => async (path, form) => {
  const reply = await fetch(url + path, { method: "POST", headers: { origin: url }, body: new URLSearchParams(form), redirect: "manual" });
  if (reply.status >= 400) throw new Error(`${path}: ${reply.status} ${(await reply.text()).slice(0, 2000)}`);
  return reply;
};

// An identifier of a kind of record.
export const id = (kind, n) => `019ac${kind}${String(n).padStart(2, "0")}-0000-7000-8000-0000000000${String(n).padStart(2, "0")}`;

// Six boxes with their water, each told to be so hot.
export async function sixBoxes(post, target) {
  for (let n = 0; n < 6; n += 1) {
    await post("/bath/vessels", { id: id("a", n), new: "true", name: `box ${n}`, shape: "sides", across: "500 mm", width: "300 mm", depth: "200 mm", min: "75 mm", max: "170 mm", wall: "polycarbonate", cover: "lid", heat: "heater", heater: "1500 W", water: "circulated", highest: "90 °C" });
    await post("/bath/fill", { bath: id("b", n), vessel: id("a", n), litres: "24", target });
  }
}
