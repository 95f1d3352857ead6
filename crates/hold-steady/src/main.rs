//! `hold-steady`: the one program, and the only place where the other three crates meet.
//!
//! # From the simplest use to the rarest
//!
//! - `hold-steady demo` serves an invented kitchen from a folder of its own (`demo.rs` is that scenario, and nothing else
//!   knows it); `hold-steady serve` the kitchen whose book lies in the data folder (`serve.rs`: address, zone, proxy,
//!   clock, how it starts and ends).
//! - `hold-steady calc heat < request.json` asks the core and no book; `--lines` asks it line by line, and a bad line
//!   answers with its error.
//! - `export`, `import`, `backup`, `restore`: the book as a file, taken out, brought in, copied, put back. They open it as
//!   the server does, and wait for or refuse one that is served.
//!
//! What is typed on the command line is read in `cli.rs` and refused there. Whatever fails ends in one sentence on
//! standard error: 2 for input that cannot be taken, 1 for everything else, an import that left something out among it.

mod certificate;
mod cli;
mod demo;
mod serve;

use std::io::{BufRead, BufWriter, Read, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Parser;
use hold_steady_core::calc;
use hold_steady_core::who::Deed;
use hold_steady_store::{Actor, InKitchen, Kitchen, Role, Store, StoreError};
use hold_steady_web::Clock;

use cli::{Calc, Cli, Command, Data, Export, Format, Person};

/// Exit status for input that cannot be taken.
const BAD_INPUT: u8 = 2;

/// What ends the program with a message.
#[derive(Debug, thiserror::Error)]
enum Failure {
    #[error("{0}")]
    Store(#[from] hold_steady_store::StoreError),
    #[error("{0}")]
    Io(#[from] std::io::Error),
    #[error("{0}")]
    Other(String),
}

fn main() -> ExitCode {
    let cli = Cli::parse();
    let outcome = match cli.command {
        Command::Serve(args) => serve::serve(args),
        Command::Demo(args) => serve::demo(args),
        Command::Calc(args) => return calculate(&args),
        Command::Export(args) => in_runtime(export(args)),
        Command::Backup { data, file } => in_runtime(backup(data, file)),
        Command::Restore { data, file } => restore(&data, &file),
        Command::Person(Person::Reset { data, name }) => in_runtime(reset(data, name)),
        Command::Certificate(args) => certificate::make(&args),
        Command::Import { data, file } => in_runtime(import(data, file)),
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(failure) => {
            eprintln!("hold-steady: {failure}");
            ExitCode::FAILURE
        }
    }
}

fn in_runtime(work: impl Future<Output = Result<(), Failure>>) -> Result<(), Failure> {
    actix_web::rt::System::new().block_on(work)
}

async fn open(data: &Data) -> Result<(Store, Kitchen), Failure> {
    let store = Store::open(&data.file()?).await?;
    let kitchen = store.kitchen(Clock::system().now(), None, None).await?;
    Ok((store, kitchen))
}

fn here(store: &Store, kitchen: &Kitchen) -> InKitchen {
    store.in_kitchen(Actor { kitchen: kitchen.id, by: "command line".into(), role: Role::Cook })
}

/// Makes a code for whoever cannot sign in any more.
async fn reset(data: Data, name: String) -> Result<(), Failure> {
    let (store, kitchen) = open(&data).await?;
    let here = here(&store, &kitchen);
    let code = here.invite_by_name(&name, Clock::system().now()).await?;
    println!(
        "{code}\nWith this code {name} chooses a new password: “I have a code” on the page that asks who it is. It counts once, for a day."
    );
    Ok(())
}

fn calculate(args: &Calc) -> ExitCode {
    let stdin = std::io::stdin();
    let mut out = std::io::stdout().lock();
    let mut bad = false;
    let mut answer = |text: &str| -> std::io::Result<()> {
        let line = match calc::run_text(&args.kind, text) {
            Ok(answer) => answer,
            Err(error) => {
                bad = true;
                serde_json::json!({ "error": error })
            }
        };
        serde_json::to_writer(&mut out, &line)?;
        out.write_all(b"\n")
    };
    let written = if args.lines {
        stdin.lock().split(b'\n').try_for_each(|line| {
            let line = line?;
            // A line that is not UTF-8 answers with its error like any other bad line.
            let text = String::from_utf8_lossy(&line);
            if text.trim().is_empty() { Ok(()) } else { answer(&text) }
        })
    } else {
        let mut bytes = Vec::new();
        stdin.lock().read_to_end(&mut bytes).and_then(|_| answer(&String::from_utf8_lossy(&bytes)))
    };
    match written {
        // A reader that has seen enough closes the pipe: no failure of ours.
        Err(e) if e.kind() != std::io::ErrorKind::BrokenPipe => {
            eprintln!("hold-steady: {e}");
            ExitCode::FAILURE
        }
        _ if bad => ExitCode::from(BAD_INPUT),
        _ => ExitCode::SUCCESS,
    }
}

async fn export(args: Export) -> Result<(), Failure> {
    let (store, kitchen) = open(&args.data).await?;
    // A file that is there already is only replaced by a whole one.
    let part = args.out.as_ref().filter(|to| to.is_file() || !to.exists());
    let part = part.map(|to| to.with_added_extension("part"));
    let out: Box<dyn Write + Send> = match part.as_ref().or(args.out.as_ref()) {
        Some(file) => Box::new(BufWriter::new(private(file)?)),
        None => Box::new(BufWriter::new(std::io::stdout())),
    };
    let here = here(&store, &kitchen);
    let deed = Deed::TakenOut {
        file: args.out.as_ref().map_or("standard output".into(), |p| p.display().to_string()),
    };
    noted(&here, deed).await;
    match args.format {
        Format::Json => here.export(&kitchen, Clock::system().now(), out).await?,
        Format::Csv => here.export_csv(&kitchen, out).await?,
    }
    if let (Some(part), Some(path)) = (part, args.out) {
        std::fs::rename(part, path)?;
    }
    Ok(())
}

/// Makes a file that only its owner reads: what is in it is about guests' health.
fn private(path: &Path) -> std::io::Result<std::fs::File> {
    let mut options = std::fs::OpenOptions::new();
    options.create(true).truncate(true).write(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    options.open(path)
}

async fn import(data: Data, file: std::path::PathBuf) -> Result<(), Failure> {
    let named = |e: &dyn std::fmt::Display| Failure::Other(format!("{}: {e}", file.display()));
    let book = std::fs::File::open(&file).map_err(|e| named(&e))?;
    let (store, kitchen) = open(&data).await?;
    let done = here(&store, &kitchen).import(book, Clock::system().now()).await.map_err(|e| match e {
        StoreError::Import(e) => named(&format!("{e}. Nothing was imported.")),
        other => other.into(),
    })?;
    println!("{done}");
    for left in &done.left_out {
        println!("not taken: {}: {}", left.what, left.reason);
    }
    for noted in &done.noted {
        println!("computed again: {}: {}", noted.what, noted.reason);
    }
    match done.left_out.len() + done.more_left_out {
        0 => Ok(()),
        n => Err(Failure::Other(format!(
            "{n} left out (named above); what else is in the file was brought in"
        ))),
    }
}

async fn backup(data: Data, file: PathBuf) -> Result<(), Failure> {
    let from = data.file()?;
    if !from.exists() {
        return Err(Failure::Other(format!("there is no database at {}", from.display())));
    }
    let (store, kitchen) = open(&data).await?;
    noted(&here(&store, &kitchen), Deed::Copied { file: file.display().to_string() }).await;
    store.backup(&file).await?;
    println!("copied to {}", file.display());
    Ok(())
}

/// Writes down what was done to the files; where that cannot be, it is done all the same.
async fn noted(here: &InKitchen, deed: Deed) {
    if let Err(e) = here.done(deed, Clock::system().now()).await {
        eprintln!("hold-steady: this could not be written into the trail: {e}");
    }
}

fn restore(data: &Data, file: &Path) -> Result<(), Failure> {
    let database = data.file()?;
    let kept = hold_steady_store::restore(file, &database, Clock::system().now())?;
    let deed = Deed::Restored { file: file.display().to_string() };
    in_runtime(async {
        let (store, kitchen) = open(data).await?;
        noted(&here(&store, &kitchen), deed).await;
        Ok(())
    })?;
    println!("{} was put in place as {}", file.display(), database.display());
    if let Some(kept) = kept {
        println!("what was there is kept as {}", kept.display());
    }
    Ok(())
}
