//! x
pub mod bath;
pub mod book;
pub mod calc;
pub mod cook;
pub mod food;
pub mod heat;
pub mod piece;
pub mod plan;
pub mod safety;
pub mod units;
