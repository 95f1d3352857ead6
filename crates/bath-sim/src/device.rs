//! A device: a tub and the line on which it reports.

use std::collections::VecDeque;
use std::time::{Duration, Instant};

use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;
use serde_json::json;
use ureq::Agent;

use crate::Tub;

/// What the server answers.
#[derive(Debug, Clone, Deserialize, PartialEq, Eq)]
pub struct Sent {
    /// Readings written down.
    pub taken: usize,
    /// That were there already.
    pub known: usize,
    /// The server's time.
    pub now: Timestamp,
}

/// A device that reports.
pub struct Device {
    /// Its water.
    pub tub: Tub,
    at: String,
    token: String,
    agent: Agent,
    /// The server's time and this machine's, when it was last heard; and how fast that runs.
    heard: Option<(Timestamp, Instant)>,
    rate: f64,
    /// Up to when the tub has come.
    passed: Option<Timestamp>,
    /// Readings the server has not taken yet.
    kept: VecDeque<(Timestamp, f64)>,
}

/// Most readings that are kept while the server cannot be reached.
const MOST_KEPT: usize = 20_000;
/// Most in one report.
const AT_ONCE: usize = 500;

impl Device {
    /// A device with a token that reports to a server (`http://127.0.0.1:8765`).
    #[must_use]
    pub fn new(server: &str, token: &str, tub: Tub) -> Self {
        let agent = Agent::config_builder()
            .timeout_global(Some(Duration::from_secs(5)))
            .http_status_as_error(false)
            .build()
            .into();
        let at = format!("{}/api/v1/readings", server.trim_end_matches('/'));
        Self {
            tub,
            at,
            token: token.into(),
            agent,
            heard: None,
            rate: 1.0,
            passed: None,
            kept: VecDeque::new(),
        }
    }

    /// How many readings wait to be sent.
    #[must_use]
    pub fn waiting(&self) -> usize {
        self.kept.len()
    }

    /// The server's time, as far as it is known.
    fn now(&self) -> Option<Timestamp> {
        let (at, then) = self.heard?;
        at.checked_add(SignedDuration::from_secs_f64(then.elapsed().as_secs_f64() * self.rate)).ok()
    }

    /// Lets the time pass that passed, reads, and reports: what was taken, or why nothing was. What was not taken is kept.
    ///
    /// # Errors
    /// Why the server did not take it.
    pub fn turn(&mut self) -> Result<Sent, String> {
        let Some(now) = self.now() else { return self.send() };
        let since = self.passed.map_or(0.0, |p| now.duration_since(p).as_secs_f64());
        self.tub.pass(since);
        self.passed = Some(now);
        if self.tub.silent {
            return Err("silent".into());
        }
        let clock = SignedDuration::from_secs_f64(self.tub.clock_s);
        if self.kept.len() < MOST_KEPT {
            self.kept.push_back((now.checked_add(clock).unwrap_or(now), self.tub.read()));
        }
        self.send()
    }

    fn send(&mut self) -> Result<Sent, String> {
        let some: Vec<_> = self.kept.iter().take(AT_ONCE).copied().collect();
        let readings: Vec<_> = some
            .iter()
            .map(|(at, c)| json!({ "at": at.to_string(), "celsius": (c * 1000.0).round() / 1000.0 }))
            .collect();
        let body = json!({ "readings": readings, "set_celsius": self.tub.set_c }).to_string();
        let answer = self
            .agent
            .post(&self.at)
            .header("Authorization", format!("Bearer {}", self.token))
            .header("Content-Type", "application/json")
            .send(&body)
            .map_err(|e| e.to_string())?;
        let status = answer.status().as_u16();
        let text = answer.into_body().read_to_string().map_err(|e| e.to_string())?;
        if status != 200 {
            return Err(format!("{status}: {text}"));
        }
        let sent: Sent = serde_json::from_str(&text).map_err(|e| format!("{e}: {text}"))?;
        self.kept.drain(..some.len());
        if let Some((before, then)) = self.heard {
            let s = then.elapsed().as_secs_f64();
            // Over a second or more the rate is known well enough.
            if s > 0.5 {
                self.rate = (sent.now.duration_since(before).as_secs_f64() / s).clamp(0.0, 10_000.0);
            }
        }
        self.heard = Some((sent.now, Instant::now()));
        self.passed = self.passed.or(Some(sent.now));
        Ok(sent)
    }
}
