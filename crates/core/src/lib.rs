//! Heat, kill and judgement for food in temperature-held water baths.
//!
//! This crate has no input or output, no clock and no interface: instants, readings and typed text
//! come in as arguments, answers go out as values. It is made of the parts of a cook's work, with
//! what they stand on underneath.
//!
//! # From the simplest question to the rarest
//!
//! **When is a 25 mm steak in a 55 °C bath heated through?** The heat alone, with constant properties
//! ([`heat`]):
//!
//! ```
//! use hold_steady_core::bath::BathTrace;
//! use hold_steady_core::heat::*;
//! use hold_steady_core::units::Length;
//!
//! let meat = Material::constant(1.4e-7, 0.48);
//! let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
//! let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
//! let run = simulate(&Problem::uniform(mesh, &meat, Initial::Uniform(5.0), surface), 7200.0, &[])?;
//! let through_s = run.core.first(0.0, |c| c >= 54.5).expect("within two hours");
//! assert_eq!((through_s / 60.0).round(), 69.0);
//! # Ok::<(), HeatError>(())
//! ```
//!
//! **And when is it safe, for whom?** The calculation interface asks and answers in JSON, with the
//! food's own properties, kinetics and code ([`calc`]):
//!
//! ```
//! let request = serde_json::json!({
//!     "food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55, "until_min": 90, "intact": true
//! });
//! let answer = hold_steady_core::calc::run("heat", &request)?;
//! assert_eq!(answer["verdict"]["level"], "serve-now");
//! assert!(answer["verdict"]["way_out"]["until_min"].as_f64().is_some_and(|m| m > 150.0));
//! # Ok::<(), hold_steady_core::calc::CalcError>(())
//! ```
//!
//! **When do I drop it to eat at eight?** A sentence as typed, read in the kitchen's time zone and
//! planned with the spreads a kitchen really has ([`plan`]):
//!
//! ```
//! use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, plan};
//! use hold_steady_core::units::Units;
//!
//! let zone = jiff::tz::TimeZone::get("Europe/Lisbon")?;
//! let now = "2026-11-25T14:00:00Z".parse()?;
//! let typed = PlanForm {
//!     food: "beef-ribeye".into(),
//!     thickness: "1 1/2 in".into(),
//!     intact: "whole".into(),
//!     guests: "at-risk".into(),
//!     ready: "20:00".into(),
//!     ..PlanForm::default()
//! };
//! let rules = KitchenRules::default();
//! let reading = typed.read(&Setting::new(Units::default(), now, &zone, &rules));
//! let plan = plan(&reading.request.expect("all of it is understood"), now)?;
//! assert!(plan.must_pasteurise && plan.in_time);
//! assert!(plan.times.pasteurised.is_some_and(|p| p.until <= plan.times.pull));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! **It went in late. Where does it stand?** What happened is a list of events; state follows from it
//! ([`cook`]), and what came out stands in the [`book`].
//!
//! **A cooler, falling.** Any bath is a trace of readings ([`bath`]):
//!
//! ```
//! let cooler = serde_json::json!({
//!     "food": "beef-strip", "thickness_mm": 25, "start_c": 5, "until_min": 120, "intact": true,
//!     "bath": [{"min": 0, "c": 58.0}, {"min": 60, "c": 56.0}, {"min": 120, "c": 54.6}]
//! });
//! let answer = hold_steady_core::calc::run("heat", &cooler)?;
//! assert!(answer["heated_through_min"].as_f64().is_some());
//! # Ok::<(), hold_steady_core::calc::CalcError>(())
//! ```
//!
//! # Caution
//!
//! Where an answer is about safety it errs to the safe side and says so. It replaces neither a local
//! food code nor licensed practice.

pub mod bath;
pub mod board;
pub mod book;
pub mod calc;
pub mod chill;
pub mod cook;
pub mod evidence;
pub mod figures;
pub mod food;
pub mod keep;
pub mod kept;
pub mod limits;
pub mod piece;
pub mod plan;
pub mod prep;
pub mod safety;
pub mod sear;
pub mod steps;
mod strict;
mod unfit;
pub mod units;
pub mod who;
pub mod words;

pub use hold_steady_heat as heat;
pub use unfit::Unfit;
