//! The command line.

use std::collections::BTreeSet;
use std::net::IpAddr;
use std::path::PathBuf;
use std::sync::Arc;

use clap::{Args, Parser, Subcommand, ValueEnum};
use etcetera::{BaseStrategy, choose_base_strategy};
use jiff::Timestamp;

use hold_steady_web::{Certificate, Door};

use crate::Failure;

/// Plan, run and write down cooks in a temperature-held water bath.
#[derive(Debug, Parser)]
#[command(version, about)]
pub struct Cli {
    #[command(subcommand)]
    pub command: Command,
}

#[derive(Debug, Subcommand)]
pub enum Command {
    /// Serve the pages to this machine (or, with --bind, to the kitchen's network).
    Serve(Serve),
    /// Serve the pages with invented data, in a data folder of their own.
    Demo(Demo),
    /// Calculate: one JSON request on standard input, one JSON answer on standard output.
    Calc(Calc),
    /// Write the whole book out.
    Export(Export),
    /// Copy the whole database into a new file, also while it is served.
    Backup {
        #[command(flatten)]
        data: Data,
        /// The file to make. One that is there already is not overwritten.
        file: PathBuf,
    },
    /// Put a copy made with backup in the place of the database, once it was looked through. What was there is kept beside it.
    Restore {
        #[command(flatten)]
        data: Data,
        /// The copy.
        file: PathBuf,
    },
    /// Who works here, from the machine itself.
    #[command(subcommand)]
    Person(Person),
    /// Make a certificate for an encrypted line, signed by an authority of the kitchen’s own.
    Certificate(MakeCertificate),
    /// Bring an exported book in. Importing twice changes nothing.
    Import {
        #[command(flatten)]
        data: Data,
        /// The JSON file that was exported.
        file: PathBuf,
    },
}

/// What can be done for somebody from the machine itself.
#[derive(Debug, Subcommand)]
pub enum Person {
    /// Make a code by which somebody chooses a new password, also while it is served.
    Reset {
        #[command(flatten)]
        data: Data,
        /// Their name.
        name: String,
    },
}

/// What a certificate is made for.
#[derive(Debug, Clone, Args)]
pub struct MakeCertificate {
    #[command(flatten)]
    pub data: Data,
    /// Names and addresses by which phones reach this machine, without port, as galley.lan 192.168.1.20.
    #[arg(required = true, value_name = "NAME")]
    pub names: Vec<String>,
    /// For how many days it counts; at most 825.
    #[arg(long, default_value_t = 825)]
    pub days: u16,
    /// Make another in the place of one that is there.
    #[arg(long)]
    pub again: bool,
}

/// Where the data is.
#[derive(Debug, Clone, Args)]
pub struct Data {
    /// Folder for the database.
    #[arg(long, value_name = "FOLDER", env = "HOLD_STEADY_DATA")]
    data: Option<PathBuf>,
}

impl Data {
    /// The database file.
    pub fn file(&self) -> Result<PathBuf, Failure> {
        self.folder("data").map(|folder| folder.join("hold-steady.db"))
    }

    /// The folder, or `name` in the usual place of a user's data.
    pub fn folder(&self, name: &str) -> Result<PathBuf, Failure> {
        if let Some(folder) = &self.data {
            return Ok(folder.clone());
        }
        let usual = choose_base_strategy()
            .map_err(|e| Failure::Other(format!("no folder for the data ({e}): give one with --data")))?;
        Ok(usual.data_dir().join("hold-steady").join(name))
    }
}

/// How the pages are served.
#[derive(Debug, Clone, Args)]
pub struct Network {
    /// Address to listen on. Other than the loopback's, everyone on that network reaches the door: people sign in.
    #[arg(long, default_value = "127.0.0.1")]
    pub bind: IpAddr,
    /// Port to listen on; 0 takes a free one.
    #[arg(long, default_value_t = 8765)]
    pub port: u16,
    /// A further host name the pages are reached by; people sign in then.
    #[arg(long = "host", value_name = "NAME")]
    pub hosts: Vec<String>,
    /// Address of a proxy in front: what it says of the host name (X-Forwarded-Host, -Proto) is believed, nobody else.
    #[arg(long, value_name = "ADDRESS")]
    pub proxy: Option<IpAddr>,
    /// Certificate of an encrypted line (PEM, with those that lead to it); taken up again when the file changes. People sign in then.
    #[arg(long, value_name = "FILE", requires = "tls_key")]
    pub tls_cert: Option<PathBuf>,
    /// Its private key (PEM).
    #[arg(long, value_name = "FILE", requires = "tls_cert")]
    pub tls_key: Option<PathBuf>,
    /// Serve a network over a line that everybody on it can read, passwords too. Said in red on every page.
    #[arg(long)]
    pub plain_network: bool,
    /// How much is written to the log, on standard error: error, warn, info (what writes, is refused or fails) or debug (every request).
    #[arg(long, value_name = "LEVEL", default_value = "info")]
    pub log: tracing::Level,
    /// For tests: the time the clock shows at the start, as 2026-11-25T16:00:00Z.
    #[arg(long, value_name = "INSTANT", hide_short_help = true)]
    pub clock_at: Option<Timestamp>,
    /// For tests and demonstrations: how many times as fast the clock runs.
    #[arg(long, value_name = "TIMES", default_value_t = 1.0, hide_short_help = true)]
    pub clock_rate: f64,
    /// For tests: as if somebody set the clock, so many seconds on, so many seconds after the start, as 3600@5.
    #[arg(long, value_name = "SECONDS@AFTER", hide_short_help = true, allow_hyphen_values = true)]
    pub clock_set: Option<String>,
    /// For tests: the time since the program last ran counts as the machine away, as it does by the system’s clock.
    #[arg(long, hide_short_help = true)]
    pub clock_away: bool,
}

impl Network {
    /// How people come in. It hangs on the address that is listened on, never on who asks: behind a proxy of this machine
    /// everybody seems to sit at it.
    pub fn door(&self) -> Result<Door, Failure> {
        if self.proxy.is_some() || self.tls_cert.is_some() {
            return Ok(Door::SignIn);
        }
        if self.bind.is_loopback() && self.hosts.is_empty() {
            return Ok(Door::Open);
        }
        if self.bind.is_loopback() || self.plain_network {
            return Ok(Door::SignInPlainly);
        }
        Err(Failure::Other(format!(
            "{} is reached by others, and the line would not be encrypted: passwords and guests’ health could be read by everybody \
             on that network. Make a certificate (hold-steady certificate) and give it with --tls-cert and --tls-key; or put a proxy in front \
             that encrypts, and name its address with --proxy; or, for those who must, start with --plain-network, which is said in red on every page.",
            self.bind
        )))
    }

    /// What an encrypted line is made with.
    pub fn certificate(&self) -> Result<Option<Arc<Certificate>>, Failure> {
        let Some((cert, key)) = self.tls_cert.as_ref().zip(self.tls_key.as_ref()) else { return Ok(None) };
        Certificate::read(cert, key).map(|c| Some(Arc::new(c))).map_err(Failure::Other)
    }

    /// The names its pages may be asked for by.
    pub fn names(&self) -> BTreeSet<String> {
        let here = ["localhost", "127.0.0.1", "[::1]"].into_iter().map(str::to_owned);
        let bound = (!self.bind.is_unspecified()).then(|| match self.bind {
            IpAddr::V6(a) => format!("[{a}]"),
            IpAddr::V4(a) => a.to_string(),
        });
        here.chain(bound).chain(self.hosts.iter().map(|h| h.to_lowercase())).collect()
    }
}

#[derive(Debug, Clone, Args)]
pub struct Serve {
    #[command(flatten)]
    pub data: Data,
    #[command(flatten)]
    pub network: Network,
    /// Name of the kitchen; remembered.
    #[arg(long, value_name = "NAME")]
    pub kitchen: Option<String>,
    /// IANA time zone of the kitchen, as Europe/Lisbon; remembered. At the first start, the system's.
    #[arg(long, value_name = "ZONE")]
    pub time_zone: Option<String>,
}

#[derive(Debug, Clone, Args)]
pub struct Demo {
    #[command(flatten)]
    pub data: Data,
    #[command(flatten)]
    pub network: Network,
    /// Throw the demonstration's data away and invent it again, relative to now.
    #[arg(long)]
    pub fresh: bool,
    /// Without the simulated circulators that report every second.
    #[arg(long)]
    pub still: bool,
}

#[derive(Debug, Clone, Args)]
pub struct Calc {
    /// What to calculate: heat.
    pub kind: String,
    /// One request a line, one answer a line, in order.
    #[arg(long)]
    pub lines: bool,
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum Format {
    /// Everything, for importing elsewhere.
    Json,
    /// The book as a table.
    Csv,
}

#[derive(Debug, Clone, Args)]
pub struct Export {
    #[command(flatten)]
    pub data: Data,
    /// How it is written.
    #[arg(long, value_enum, default_value_t = Format::Json)]
    pub format: Format,
    /// File to write; standard output without.
    #[arg(long, value_name = "FILE")]
    pub out: Option<PathBuf>,
}
