//! When a page cannot be shown: what happened, and the way back.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpResponse, ResponseError};
use askama::Template;
use hold_steady_core::heat::HeatError;
use hold_steady_core::units::capitalised;
use hold_steady_store::StoreError;

use super::Place;
use crate::words::door as says;

/// Why a page cannot be shown.
#[derive(Debug, thiserror::Error)]
pub enum PageError {
    /// Nothing is at this address.
    #[error("There is no such page.")]
    NoSuchPage,
    /// No cook has this identifier.
    #[error("There is no such cook.")]
    NoSuchCook,
    /// No food has this identifier.
    #[error("There is no such food.")]
    NoSuchFood,
    /// What is asked to be seared is not: which food, and what is done with it instead.
    #[error("{0}: {1}.")]
    NotSeared(String, String),
    /// The request makes no sense.
    #[error("{0}")]
    Request(String),
    /// The request came from somewhere it must not come from.
    #[error("{0}")]
    Forbidden(&'static str),
    /// Nobody is signed in.
    #[error("Sign in first; what was tapped is kept until then.")]
    SignIn,
    /// Nobody is named on a screen that several share.
    #[error("Say who it is first; what was tapped is kept until then.")]
    Who,
    /// It takes the PIN of whoever is named.
    #[error("This takes your PIN.")]
    Pin,
    /// The body of the request could not be taken.
    #[error("{1}")]
    Body(StatusCode, String),
    /// Whoever asks has asked for too much: seconds to wait, and of what.
    #[error("{1}")]
    TooMany(u64, String),
    /// Everything that computes is at work.
    #[error("The kitchen’s machine is busy computing for others. Try again in a moment.")]
    Busy,
    /// What computed was interrupted.
    #[error("The computation was interrupted.")]
    Interrupted,
    /// The store failed.
    #[error("{0}")]
    Store(#[from] StoreError),
    /// The simulation failed.
    #[error("{0}")]
    Heat(#[from] HeatError),
    /// A template failed.
    #[error("{0}")]
    Template(#[from] askama::Error),
}

/// What was written down, or why it could not be: a reason to be shown beside what was typed. What failed besides is no
/// matter of what was typed.
pub fn or_why<T>(written: Result<T, StoreError>) -> Result<Result<T, String>, PageError> {
    match written {
        Ok(done) => Ok(Ok(done)),
        Err(StoreError::Conflict(reason)) => Ok(Err(reason)),
        Err(failed) => Err(failed.into()),
    }
}

#[derive(Template)]
#[template(path = "app/error.html")]
struct ErrorPage {
    version: &'static str,
    heading: &'static str,
    text: String,
    back: &'static str,
    back_text: &'static str,
}

impl ResponseError for PageError {
    fn status_code(&self) -> StatusCode {
        match self {
            Self::NoSuchPage | Self::NoSuchCook | Self::NoSuchFood | Self::Store(StoreError::NotFound) => {
                StatusCode::NOT_FOUND
            }
            Self::Request(_) | Self::NotSeared(..) => StatusCode::BAD_REQUEST,
            Self::Body(status, _) => *status,
            // Whoever asked has hung up: nobody reads this but the log.
            Self::Heat(HeatError::Stopped) => StatusCode::REQUEST_TIMEOUT,
            Self::Heat(HeatError::TooMuch(_)) => StatusCode::UNPROCESSABLE_ENTITY,
            Self::TooMany(..) => StatusCode::TOO_MANY_REQUESTS,
            Self::Busy | Self::Store(StoreError::Busy | StoreError::Crowded) => {
                StatusCode::SERVICE_UNAVAILABLE
            }
            Self::Store(StoreError::Conflict(_)) => StatusCode::CONFLICT,
            Self::Store(StoreError::Full) => StatusCode::INSUFFICIENT_STORAGE,
            Self::Forbidden(_) | Self::Pin => StatusCode::FORBIDDEN,
            Self::SignIn | Self::Who => StatusCode::UNAUTHORIZED,
            _ => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let status = self.status_code();
        // That everybody is busy is no failure.
        if status.is_server_error() && !matches!(self, Self::Busy | Self::Store(StoreError::Crowded)) {
            tracing::error!(error = %self, "a page could not be shown");
        }
        let (heading, text) = match self {
            Self::NoSuchPage => ("There is no such page", says::ADDRESS_MISTYPED.to_owned()),
            Self::NoSuchCook | Self::Store(StoreError::NotFound) => (
                if matches!(self, Self::NoSuchCook) { "There is no such cook" } else { "That is not here" },
                says::LINK_INCOMPLETE.to_owned(),
            ),
            Self::NoSuchFood => ("There is no such food", says::FOOD_REMOVED.to_owned()),
            Self::NotSeared(..) => ("This is not seared", self.to_string()),
            Self::Request(reason) => ("That could not be understood", reason.clone()),
            Self::Body(_, reason) => ("That did not arrive whole", reason.clone()),
            Self::Heat(e @ HeatError::TooMuch(_)) => {
                ("That is more than is computed here", format!("{}.", capitalised(&e.to_string())))
            }
            Self::Busy | Self::TooMany(..) | Self::Store(StoreError::Crowded) => {
                ("One moment", capitalised(&self.to_string()))
            }
            Self::Store(StoreError::Conflict(reason)) => {
                ("It was not written down", format!("{}.", capitalised(reason)))
            }
            Self::Store(e @ (StoreError::Busy | StoreError::Full | StoreError::Unwritable(_))) => {
                ("It was not written down", says::failed(&capitalised(&e.to_string())))
            }
            Self::Forbidden(reason) => ("That is not allowed from here", (*reason).to_owned()),
            Self::SignIn | Self::Who => ("Who is it?", self.to_string()),
            Self::Pin => ("Your PIN", self.to_string()),
            other => ("Something failed here", says::failed(&format!("{other}."))),
        };
        let (back, back_text) = match self {
            Self::NoSuchCook | Self::Store(_) => ("/book", "To the book"),
            Self::NoSuchFood => ("/foods", "To the foods"),
            Self::SignIn => ("/sign-in", "Sign in"),
            Self::Who => ("/who", "Say who it is"),
            Self::Pin => ("/who/pin", "Give your PIN"),
            Self::NotSeared(..) => ("/finish", "Finish something else"),
            _ => ("/plan", "To the plan"),
        };
        let version = super::assets::version();
        let page = ErrorPage { version, heading, text, back, back_text };
        let mut answer = HttpResponse::build(status);
        match self {
            Self::TooMany(seconds, _) => {
                answer.insert_header((header::RETRY_AFTER, seconds.to_string()));
            }
            // Scripts ask for it over the page that is open.
            Self::Who => {
                answer.insert_header(("Hs-Needs", "who"));
            }
            Self::Pin => {
                answer.insert_header(("Hs-Needs", "pin"));
            }
            _ if status == StatusCode::SERVICE_UNAVAILABLE => {
                answer.insert_header((header::RETRY_AFTER, "1"));
            }
            _ => {}
        }
        answer
            .insert_header((header::CACHE_CONTROL, "no-store"))
            .content_type("text/html; charset=utf-8")
            .body(page.render().unwrap_or_else(|_| heading.to_owned()))
    }
}

pub async fn no_such_page() -> Result<HttpResponse, PageError> {
    Err(PageError::NoSuchPage)
}
