//! Tests of the store against real database files. One program for all of them: linked once, each run by itself.

mod common;

mod bench;
mod carried;
mod copies;
mod door;
mod keep;
mod kitchens;
mod readings;
mod store;
mod whole_book;
