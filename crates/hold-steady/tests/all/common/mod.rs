//! A really started server on a free port, with a data folder of its own.
#![allow(dead_code, reason = "each test file uses some of it")]

use std::io::{BufRead, BufReader, Read};
use std::path::Path;
use std::process::{Child, ChildStdout, Command, Stdio};
use std::sync::Mutex;

use ureq::http::Response;
use ureq::{Agent, Body};

pub struct Server {
    child: Child,
    pub address: String,
    agent: Agent,
    out: Mutex<BufReader<ChildStdout>>,
}

pub struct Reply {
    pub status: u16,
    pub location: String,
    pub cookie: String,
    pub kind: String,
    pub headers: Vec<(String, String)>,
    pub body: String,
}

impl Reply {
    fn of(response: Response<Body>) -> Self {
        let header = |name: &str| {
            response.headers().get(name).and_then(|v| v.to_str().ok()).unwrap_or_default().to_owned()
        };
        let (location, cookie, kind) = (header("location"), header("set-cookie"), header("content-type"));
        let headers = response
            .headers()
            .iter()
            .map(|(k, v)| (k.to_string(), v.to_str().unwrap_or_default().to_owned()))
            .collect();
        let status = response.status().as_u16();
        let mut body = String::new();
        response.into_body().into_reader().read_to_string(&mut body).expect("text");
        Self { status, location, cookie, kind, headers, body }
    }

    pub fn header(&self, name: &str) -> &str {
        self.headers.iter().find(|h| h.0 == name).map_or("", |h| h.1.as_str())
    }

    /// The session that was begun, as a cookie to come with.
    pub fn session(&self) -> String {
        let begun = |(name, value): &(String, String)| {
            let ours = name == "set-cookie" && value.contains("hs-session=");
            ours.then(|| value.split(';').next().unwrap_or_default().to_owned())
        };
        self.headers.iter().find_map(begun).expect("a session")
    }

    /// Where a start of a cook sent the browser.
    pub fn cook_path(&self) -> String {
        assert_eq!(self.status, 303, "{}", self.body);
        assert!(self.location.starts_with("/cook/"), "{}", self.location);
        self.location.clone()
    }
}

/// The clock every server starts with.
pub const NOW: &str = "2026-11-25T16:00:00Z";

impl Server {
    pub fn start(data: &Path) -> Self {
        Self::start_at(data, NOW, &[])
    }

    pub fn start_at(data: &Path, now: &str, more: &[&str]) -> Self {
        let mut command = Command::new(env!("CARGO_BIN_EXE_hold-steady"));
        command
            .args(["serve", "--port", "0", "--log", "error", "--clock-at", now])
            .args(["--time-zone", "Europe/Vienna", "--data"])
            .arg(data)
            .args(more);
        Self::spawn(command)
    }

    fn spawn(mut command: Command) -> Self {
        let mut child = command.stdout(Stdio::piped()).spawn().expect("the program starts");
        let out = child.stdout.take().expect("piped");
        let (mut out, mut line) = (BufReader::new(out), String::new());
        out.read_line(&mut line).expect("a line");
        let at = line.find("http://").unwrap_or_else(|| panic!("no address in {line:?}"));
        let address = line[at..].split_whitespace().next().expect("an address");
        let agent = Agent::config_builder().http_status_as_error(false).max_redirects(0).build().into();
        Self { child, address: address.trim_end_matches('/').to_owned(), agent, out: Mutex::new(out) }
    }

    /// The code that was printed for the first owner.
    pub fn first_code(&self) -> String {
        let mut out = self.out.lock().expect("one reader");
        loop {
            let mut line = String::new();
            assert!(out.read_line(&mut line).expect("a line") > 0, "no code was printed");
            if line.trim().len() == 14 && line.matches('-').count() == 2 {
                return line.trim().to_owned();
            }
        }
    }

    /// Somebody takes a code and chooses a password: their session, as a cookie.
    pub fn come_in(&self, code: &str, name: &str, password: &str) -> String {
        let reply = self.post("/welcome", &[("code", code), ("name", name), ("password", password)]);
        assert_eq!(reply.status, 303, "{}", reply.body);
        reply.session()
    }

    /// The status of an answer, whatever its body; in somebody's session, or nobody's.
    pub fn status(&self, method: &str, path: &str, cookie: &str) -> u16 {
        let address = format!("{}{path}", self.address);
        let answer = match method {
            "GET" => self.agent.get(address).header("Cookie", cookie).call(),
            _ => self
                .agent
                .post(address)
                .header("Cookie", cookie)
                .header("Origin", &self.address)
                .send_form([("x", "y")]),
        };
        answer.expect("an answer").status().as_u16()
    }

    /// Asks on a line of its own each time: one that idles may be closed in the very moment it is used again, and unlike a
    /// browser this client does not ask once more.
    #[allow(dead_code, reason = "where lines are scarce")]
    pub fn with_new_lines(mut self) -> Self {
        let config = Agent::config_builder().http_status_as_error(false).max_redirects(0);
        self.agent = config.max_idle_connections(0).build().into();
        self
    }

    pub fn pid(&self) -> u32 {
        self.child.id()
    }

    /// The server's socket, for what no well-behaved client sends.
    pub fn socket(&self) -> std::net::TcpStream {
        let at = self.address.trim_start_matches("http://");
        std::net::TcpStream::connect(at).expect("it listens")
    }

    /// Starts one with a shell's limits set before it (`ulimit -f 100`), its log written to a file.
    pub fn start_within(limits: &str, data: &Path, more: &[&str], log: &Path) -> Self {
        let program = env!("CARGO_BIN_EXE_hold-steady");
        let mut command = Command::new("bash");
        command
            .args(["-c", &format!("{limits}; exec \"$@\""), "bash", program, "serve", "--port", "0"])
            .args(["--time-zone", "Europe/Vienna", "--data"])
            .arg(data)
            .args(more)
            .stderr(std::fs::File::create(log).expect("a log"));
        Self::spawn(command)
    }

    /// Looks again and again until it is so; panics after half a minute.
    pub fn until<T>(&self, what: &str, mut look: impl FnMut(&Self) -> Option<T>) -> T {
        let end = std::time::Instant::now() + std::time::Duration::from_secs(30);
        loop {
            if let Some(found) = look(self) {
                return found;
            }
            assert!(std::time::Instant::now() < end, "never: {what}");
            std::thread::sleep(std::time::Duration::from_millis(50));
        }
    }

    pub fn get(&self, path: &str) -> Reply {
        self.get_with(path, &[])
    }

    /// The bytes of a file, in somebody's session.
    pub fn agent_bytes(&self, path: &str, cookie: &str) -> Vec<u8> {
        let answer = self
            .agent
            .get(format!("{}{path}", self.address))
            .header("Cookie", cookie)
            .call()
            .expect("an answer");
        let mut bytes = Vec::new();
        answer.into_body().into_reader().read_to_end(&mut bytes).expect("bytes");
        bytes
    }

    /// The bytes of a file.
    #[allow(dead_code, reason = "not every test asks for one")]
    pub fn get_bytes(&self, path: &str) -> Vec<u8> {
        let answer = self.agent.get(format!("{}{path}", self.address)).call().expect("an answer");
        let mut bytes = Vec::new();
        answer.into_body().into_reader().read_to_end(&mut bytes).expect("whole");
        bytes
    }

    /// Posts a form as one of our own pages would, with a cookie.
    #[allow(dead_code, reason = "not every test sends one")]
    pub fn post_as(&self, path: &str, form: &[(&str, &str)], cookie: &str) -> Reply {
        self.post_from(path, form, &[("Origin", &self.address), ("cookie", cookie)])
    }

    pub fn get_with(&self, path: &str, headers: &[(&str, &str)]) -> Reply {
        let mut request = self.agent.get(format!("{}{path}", self.address));
        for (k, v) in headers {
            request = request.header(*k, *v);
        }
        Reply::of(request.call().expect("an answer"))
    }

    /// Posts a form as one of our own pages would.
    pub fn post(&self, path: &str, form: &[(&str, &str)]) -> Reply {
        self.post_from(path, form, &[("Origin", &self.address)])
    }

    pub fn post_from(&self, path: &str, form: &[(&str, &str)], headers: &[(&str, &str)]) -> Reply {
        let mut request = self.agent.post(format!("{}{path}", self.address));
        for (k, v) in headers {
            request = request.header(*k, *v);
        }
        Reply::of(request.send_form(form.iter().copied()).expect("an answer"))
    }

    pub fn send(&self, path: &str, kind: &str, body: &[u8]) -> Reply {
        let request = self
            .agent
            .post(format!("{}{path}", self.address))
            .header("Content-Type", kind)
            .header("Origin", &self.address);
        Reply::of(request.send(body).expect("an answer"))
    }

    /// Reports readings as a device with this token does.
    pub fn report(&self, token: &str, kind: &str, body: &str) -> Reply {
        let request = self
            .agent
            .post(format!("{}/api/v1/readings", self.address))
            .header("Authorization", format!("Bearer {token}"))
            .header("Content-Type", kind);
        Reply::of(request.send(body).expect("an answer"))
    }

    /// Uploads a JSON file as the pages' forms do.
    pub fn upload(&self, path: &str, json: &str) -> Reply {
        let boundary = "----hold-steady-test";
        let body = format!(
            "--{boundary}\r\nContent-Disposition: form-data; name=\"file\"; filename=\"file.json\"\r\nContent-Type: application/json\r\n\r\n{json}\r\n--{boundary}--\r\n"
        );
        self.send(path, &format!("multipart/form-data; boundary={boundary}"), body.as_bytes())
    }

    /// Starts a cook of a whole strip steak and returns its page's path.
    pub fn start_cook(&self, id: &str) -> String {
        let form = [
            ("cook", id),
            ("food", "beef-strip"),
            ("thickness", "32 mm"),
            ("bath", "55 °C"),
            ("intact", "whole"),
        ];
        self.post("/plan/start", &form).cook_path()
    }

    /// Starts a whole cut in a vessel and returns its page's path.
    pub fn cook_in(&self, id: &str, vessel: &str, (food, thickness, bath): (&str, &str, &str)) -> String {
        let form = [
            ("cook", id),
            ("food", food),
            ("thickness", thickness),
            ("bath", bath),
            ("intact", "whole"),
            ("vessel", vessel),
        ];
        self.post("/plan/start", &form).cook_path()
    }

    /// Asks it to end, as a service manager does, and waits.
    pub fn stop(&mut self) -> std::process::ExitStatus {
        let pid = self.child.id().to_string();
        assert!(Command::new("kill").args(["-TERM", &pid]).status().expect("asked").success());
        self.child.wait().expect("gone")
    }

    /// Kills the process as a power cut would: no time to tidy up.
    pub fn kill(mut self) {
        self.child.kill().expect("killed");
        self.child.wait().expect("gone");
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

pub const COOK: &str = "019ac000-0000-7000-8000-000000000001";

/// The form of a box of about 13 l with a circulator, named so.
pub fn a_box<'a>(id: &'a str, name: &'a str) -> [(&'a str, &'a str); 15] {
    [
        ("id", id),
        ("new", "true"),
        ("name", name),
        ("shape", "sides"),
        ("across", "325 mm"),
        ("width", "265 mm"),
        ("depth", "200 mm"),
        ("min", "75 mm"),
        ("max", "170 mm"),
        ("wall", "polycarbonate"),
        ("cover", "lid"),
        ("heat", "heater"),
        ("heater", "1000 W"),
        ("water", "circulated"),
        ("highest", "90 °C"),
    ]
}

/// The token on the page that shows it once.
pub fn token_in(page: &str) -> String {
    let token = page.split("class=\"token-text\">").nth(1).and_then(|t| t.split('<').next());
    token.expect("shown once").to_owned()
}

/// How bad a level is, from the reference's words.
pub fn badness(level: &str) -> u8 {
    match level {
        "pasteurized" | "exempt" => 0,
        "serve-now" => 1,
        "refused" => 2,
        other => panic!("“{other}” is no level"),
    }
}

/// What a script of `scripts/reference` prints: a JSON value a line.
pub fn reference_lines(script: &str, arguments: &[String]) -> Vec<serde_json::Value> {
    let root = concat!(env!("CARGO_MANIFEST_DIR"), "/../..");
    let out = Command::new("python3")
        .current_dir(root)
        .arg(format!("scripts/reference/{script}"))
        .args(arguments)
        .output()
        .expect("python3 runs: ./test installs it, with numpy");
    assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    let text = String::from_utf8(out.stdout).expect("text");
    text.lines().map(|l| serde_json::from_str(l).expect("a line of JSON")).collect()
}

/// The reference counts in minutes from an instant of its own.
pub fn reference_instant(min: f64) -> jiff::Timestamp {
    let base: jiff::Timestamp = "2026-11-25T12:00:00Z".parse().expect("an instant");
    base.checked_add(jiff::SignedDuration::from_secs_f64(min * 60.0)).expect("in range")
}
