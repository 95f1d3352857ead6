//! `bath-sim`: one simulated circulator with its probe, reporting to a Hold Steady. Faults are typed on standard input,
//! one a line, or given with their minute.

use std::io::BufRead;
use std::process::ExitCode;
use std::sync::mpsc;
use std::time::{Duration, Instant};

use bath_sim::{Device, Fault, Tub};
use clap::Parser;

/// A simulated circulator that reports to Hold Steady over HTTP.
#[derive(Debug, Parser)]
#[command(version, about)]
struct Cli {
    /// Where Hold Steady is served.
    #[arg(long, default_value = "http://127.0.0.1:8765")]
    server: String,
    /// The device's token, made on the page /devices.
    #[arg(long, env = "HOLD_STEADY_TOKEN")]
    token: String,
    /// The vessel's shape.
    #[arg(long, default_value = "box-12")]
    shape: String,
    /// What it is set to, °C.
    #[arg(long, default_value_t = 56.0)]
    set: f64,
    /// What its water is at the start, °C.
    #[arg(long, default_value_t = 45.0)]
    from: f64,
    /// Seconds between two reports.
    #[arg(long, default_value_t = 1.0)]
    every: f64,
    /// Seed of its noise.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// A fault and the second it comes, as "90:power off"; any number of them.
    #[arg(long = "fault", value_name = "SECOND:FAULT")]
    faults: Vec<String>,
}

fn scheduled(text: &str) -> Result<(f64, Fault), String> {
    let (at, fault) = text.split_once(':').ok_or_else(|| format!("“{text}”: write 90:power off"))?;
    Ok((at.trim().parse().map_err(|_| format!("“{at}” is no second"))?, fault.parse()?))
}

fn main() -> ExitCode {
    let cli = Cli::parse();
    let Some(tub) = Tub::new(&cli.shape, cli.set, cli.seed) else {
        eprintln!("bath-sim: “{}” is no shipped shape; pot-8, box-12, box-26, unit-18 are some", cli.shape);
        return ExitCode::from(2);
    };
    let mut faults = match cli.faults.iter().map(|f| scheduled(f)).collect::<Result<Vec<_>, _>>() {
        Ok(faults) => faults,
        Err(why) => {
            eprintln!("bath-sim: {why}");
            return ExitCode::from(2);
        }
    };
    let mut device = Device::new(&cli.server, &cli.token, tub.at(cli.from));
    let (send, typed) = mpsc::channel::<Fault>();
    std::thread::spawn(move || {
        for line in std::io::stdin().lock().lines().map_while(Result::ok) {
            match line.parse() {
                Ok(fault) => {
                    let _ = send.send(fault);
                }
                Err(why) => eprintln!("{why}"),
            }
        }
    });
    let begun = Instant::now();
    let mut said = String::new();
    loop {
        let at = begun.elapsed().as_secs_f64();
        for (_, fault) in faults.extract_if(.., |(when, _)| *when <= at) {
            device.tub.fault(fault);
        }
        for fault in typed.try_iter() {
            device.tub.fault(fault);
        }
        let says = match device.turn() {
            Ok(_) => format!("{:.1} °C, reported", device.tub.water_c),
            Err(why) => format!("not reported, {} readings wait: {why}", device.waiting()),
        };
        if says != said {
            println!("{says}");
            said = says;
        }
        std::thread::sleep(Duration::from_secs_f64(cli.every.clamp(0.05, 3600.0)));
    }
}
