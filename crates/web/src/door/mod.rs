//! People at the door: signing in, who may what, which screens they are on, and what happened there.

mod people;
mod secret;
mod sign_in;
mod trail;

use actix_web::web;

pub fn configure(config: &mut web::ServiceConfig) {
    sign_in::configure(config);
    people::configure(config);
    trail::configure(config);
}
