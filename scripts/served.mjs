// A server for a script: started, and its address once it says it.
import { spawn } from "node:child_process";

export async function served(binary, args, env = process.env) {
  const server = spawn(binary, args, { stdio: ["ignore", "pipe", "inherit"], env });
  const url = await new Promise((resolve) => {
    server.stdout.on("data", (chunk) => {
      const at = String(chunk).match(/http:\/\/\S+/);
      if (at) resolve(at[0].replace(/\/$/, ""));
    });
  });
  return { server, url };
}
