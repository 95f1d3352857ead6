//! Simulated circulators and probes: stand-ins that ship with Hold Steady and speak to it as real devices would, over
//! `POST /api/v1/readings` and nothing else.
//!
//! A [`Tub`] is a vessel of water by the core's own bath equations, with a heater that holds a setting, food that goes in,
//! a lid, and a probe in it that lags, rounds and is noisy. A [`Device`] asks the server for the time, lets as much of
//! it pass in the tub, and reports; what cannot be sent is kept and sent again. [`Fault`]s come on command.
//!
//! ```
//! use bath_sim::{Fault, Tub};
//! let mut tub = Tub::new("box-12", 56.0, 7).expect("a shipped shape");
//! tub.pass(600.0);
//! let steady = tub.read();
//! tub.fault("power off".parse::<Fault>().expect("a fault"));
//! tub.pass(1800.0);
//! assert!((steady - 56.0).abs() < 0.5 && tub.read() < steady - 0.5);
//! ```

mod device;
mod tub;

pub use device::{Device, Sent};
pub use tub::{Fault, Tub};
