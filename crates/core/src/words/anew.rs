//! What was planned otherwise, in words.

use jiff::Timestamp;

use super::minutes;
use crate::cook::Live;
use crate::plan::{Guest, PlanRequest};
use crate::units::{Minutes, Units, capitalised};

/// Where a cook stands by the plan it was just given: served when, and out of its bath when.
///
/// ```
/// # use hold_steady_core::{bath::BathHistory, cook::{CookState, live}, evidence::usual_request, food::catalogue, plan::{From, plan}, words};
/// # let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// let live = live(&request, &plan(&request, now)?, &CookState::default(), &BathHistory::default(), now)?;
/// let told = words::stands_by(&live, &|t| t.to_string()[11..16].to_owned());
/// assert!(told.starts_with("Planned anew: served "), "{told}");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn stands_by(live: &Live, clock: &dyn Fn(Timestamp) -> String) -> String {
    format!("Planned anew: served {}, out of the bath {}", clock(live.serve_at), clock(live.pull_at))
}

/// What one plan has that the one before it had not, each in a few words: `ready at 20:00, was 19:30`.
///
/// ```
/// use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, PlanRequest}, units::*, words};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let before = usual_request(strip, From::Refrigerator);
/// let after = PlanRequest { bath_c: Celsius::new(57.0), at_risk: !before.at_risk, ..before.clone() };
/// let told = words::planned_anew(&before, &after, Units::default(), &|_| String::new());
/// assert_eq!(told, ["bath 57 °C, was 55 °C", "for a guest at risk, was for guests not at risk"]);
/// ```
#[must_use]
pub fn planned_anew(
    before: &PlanRequest,
    after: &PlanRequest,
    units: Units,
    clock: &dyn Fn(Timestamp) -> String,
) -> Vec<String> {
    let was = |now: String, before: String| (now != before).then(|| format!("{now}, was {before}"));
    let ready = |r: &PlanRequest| {
        r.ready_at.map_or_else(|| "as soon as it can be".to_owned(), |t| format!("at {}", clock(t)))
    };
    let time = |r: &PlanRequest| r.time_min.map_or_else(|| "as long as it needs".to_owned(), minutes);
    let guests =
        |r: &PlanRequest| if r.at_risk { "for a guest at risk" } else { "for guests not at risk" }.to_owned();
    let bath = |r: &PlanRequest| format!("bath {}", units.temperature(r.bath_c));
    let pieces = |r: &PlanRequest| format!("{} in the bag", r.prep.pieces.max(1));
    // For whom stands by itself.
    let same_guests = PlanRequest { at_risk: before.at_risk, ..after.clone() };
    let all = [
        was(after.food().name.clone(), before.food().name.clone()),
        was(after.how_big(units), before.how_big(units)),
        (before.food().id == after.food().id)
            .then(|| was(same_guests.piece_words(), before.piece_words()))
            .flatten(),
        was(pieces(after), pieces(before)),
        was(bath(after), bath(before)).map(|t| t.replacen(", was bath ", ", was ", 1)),
        was(format!("ready {}", ready(after)), format!("ready {}", ready(before)))
            .map(|t| t.replacen(", was ready ", ", was ", 1).replacen(", was at ", ", was ", 1)),
        was(format!("in the bath {}", time(after)), format!("in the bath {}", time(before)))
            .map(|t| t.replacen(", was in the bath ", ", was ", 1)),
        was(guests(after), guests(before)),
    ];
    all.into_iter().flatten().collect()
}

/// That a piece cannot be on the plate when it is wished; none where it can.
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, words};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = Export::example();
/// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
/// let record = cook.plan_record().expect("planned");
/// let (plan, state) = (record.plan()?, cook.state());
/// let stands = live(&record.request, &plan, &state, &cook.water(&state), now)?;
/// assert_eq!(words::not_when_wished(stands.serve_at, &stands, &|t| t.to_string()), None);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn not_when_wished(ready: Timestamp, live: &Live, clock: &dyn Fn(Timestamp) -> String) -> Option<String> {
    const WORTH_SAYING: Minutes = Minutes::new(2.0);
    let later = Minutes::between(ready, live.serve_at);
    if later.abs() < WORTH_SAYING {
        return None;
    }
    Some(if later > Minutes::ZERO {
        format!("It cannot be ready at {}: at {} at the soonest.", clock(ready), clock(live.serve_at))
    } else {
        format!(
            "It cannot wait until {}: out of its bath by {}, it is on the plate at {}; or it is chilled then, and warmed again.",
            clock(ready),
            clock(live.pull_at),
            clock(live.serve_at)
        )
    })
}

/// What the guest a plan is for must not eat of it; none where there is nothing, or it is for nobody in particular.
///
/// ```
/// use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, Guest, PlanRequest, ServedTo}, words};
/// let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
/// let mira = Guest { number: 3, name: "Mira".into(), avoids: vec!["fish".into()], ..Guest::default() };
/// let served_to = Some(ServedTo { guest: mira.id, number: 3, avoids: mira.avoids.clone() });
/// let request = PlanRequest { served_to, ..usual_request(salmon, From::Refrigerator) };
/// assert_eq!(words::must_not_eat(&request, &[mira]).as_deref(), Some("Mira must not eat fish, and it is in this."));
/// ```
#[must_use]
pub fn must_not_eat(request: &PlanRequest, guests: &[Guest]) -> Option<String> {
    let served = request.served_to.as_ref()?;
    let of_it = request.must_not_be_eaten();
    let named = guests.iter().find(|g| g.id == served.guest).map(Guest::called);
    let who = named.unwrap_or_else(|| format!("guest {}", served.number));
    (!of_it.is_empty())
        .then(|| format!("{} must not eat {}, and it is in this.", capitalised(&who), of_it.join(" or ")))
}
