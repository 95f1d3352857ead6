//! The kitchen as whoever asks reaches it: the only way from a handler to its records.

use std::future::{Ready, ready};
use std::ops::Deref;

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpMessage, HttpRequest};
use hold_steady_core::who::{MayNot, Right, Written, may_correct};
use hold_steady_store::InKitchen;
use jiff::Timestamp;

use super::{PageError, Who};

/// The kitchen's records in the name and the role of whoever asks, as they proved it. Put into the request once it is known who
/// that is (`who.rs`), and taken out of it here; nothing else gives a handler the store.
#[derive(Clone)]
pub struct Here {
    kitchen: InKitchen,
    who: Who,
}

impl Here {
    pub(super) const fn new(kitchen: InKitchen, who: Who) -> Self {
        Self { kitchen, who }
    }

    /// The same, of a request that is at hand.
    pub fn of(request: &HttpRequest) -> Result<Self, PageError> {
        request.extensions().get::<Self>().cloned().ok_or(PageError::SignIn)
    }

    /// Who asks.
    pub const fn who(&self) -> &Who {
        &self.who
    }

    /// Whether whoever asks may, in their role and with what they proved.
    pub const fn may(&self, right: Right) -> bool {
        self.who.role.may(right) && self.who.proof.reaches(right)
    }

    /// Whether whoever asks may take back or set right what somebody wrote, and when.
    ///
    /// # Errors
    /// What is missing, in words.
    pub fn may_correct(
        &self,
        by: &hold_steady_core::who::By,
        written: Timestamp,
        now: Timestamp,
    ) -> Result<(), PageError> {
        let written = match by.person {
            None => Written::ByNobody,
            Some(person) if Some(person) == self.who.by.person => {
                Written::ByThem { ago: now.duration_since(written) }
            }
            Some(_) => Written::ByAnother,
        };
        may_correct(self.who.role, self.who.proof, written).map_err(|missing| match missing {
            MayNot::WithoutPin => PageError::Pin,
            MayNot::WhatOthersWrote => PageError::Forbidden(crate::words::people::WHAT_OTHERS_WROTE),
        })
    }
}

impl Deref for Here {
    type Target = InKitchen;

    fn deref(&self) -> &InKitchen {
        &self.kitchen
    }
}

impl FromRequest for Here {
    type Error = PageError;
    type Future = Ready<Result<Self, PageError>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        ready(Self::of(request))
    }
}
