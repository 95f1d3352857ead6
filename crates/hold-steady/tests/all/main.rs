//! Tests of the whole program: the server as it is started, and evenings driven through it. One program for all of them: linked once, each run by itself.

mod common;

mod bath;
mod board;
mod book;
mod calc;
mod cook;
mod demo;
mod door;
mod evenings;
mod fault;
mod finish;
mod foods;
mod guard;
mod hostile;
mod kill;
mod kitchen;
mod limits;
mod plan;
mod power_cut;
mod reference;
mod take_along;
mod walls;
