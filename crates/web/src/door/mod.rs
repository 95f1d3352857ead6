//! People at the door: signing in, who may what, which screens they are on, and what happened there.

mod people;
mod screens;
mod secret;
mod sign_in;
mod trail;
mod trust;
mod who;
mod you;

use actix_web::web;

pub fn configure(config: &mut web::ServiceConfig) {
    sign_in::configure(config);
    people::configure(config);
    screens::configure(config);
    trail::configure(config);
    trust::configure(config);
    who::configure(config);
    you::configure(config);
}
