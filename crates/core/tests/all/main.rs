//! Tests of the core, against published tables, standards, reference libraries and itself. One program for all of them: linked once, each run by itself.

mod common;

mod all_foods;
mod analytic_series;
mod baths;
mod blocks;
mod bones;
mod bounds;
mod calc_requests;
mod compositions;
mod cooling;
mod documented;
mod effort;
mod eggs;
mod events;
mod evidence;
mod exports;
mod falling;
mod floating;
mod freezing;
mod histories;
mod invariants;
mod layers;
mod plans;
mod published_times;
mod refusals;
mod replanned;
mod replay;
mod salt;
mod sear;
mod slow_end;
mod steps;
mod typed_text;
mod verdicts;
mod water_fails;
mod worked_cases;
