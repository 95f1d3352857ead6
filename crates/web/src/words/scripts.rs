//! What the scripts say: they fill the blanks and choose, the words are ours.

use std::sync::LazyLock;

use serde_json::json;

/// The scripts' words as JSON, for the page they run in.
pub fn words() -> &'static str {
    static WORDS: LazyLock<String> = LazyLock::new(|| {
        json!({
            "left": "in {span}",
            "due": "due {span} ago",
            "seconds": "{n} s",
            "min": "{m} min",
            "h": "{h} h",
            "hMin": "{h} h {m} min",
            "frame": "{when}, centre {centre}",
            "turn": "Turn",
            "turns": "{n} turns",
            "countAgain": "Count again",
            "send": "The kitchen’s machine cannot be reached.",
            "slow": "The kitchen’s machine has not answered for four seconds.",
            "busy": "The kitchen’s machine is busy.",
            "fail": "Something failed on the kitchen’s machine.",
            "noAnswer": "No answer yet.",
            "askedAgain": "{why} What you typed is kept; it is asked again every few seconds.",
            "noWord": "No word from the kitchen’s machine for {ago}. Temperature and verdict are those of {at}; the countdown goes on from the forecast of then.",
            "waits": "{why} “{label}”, tapped at {at}, waits here and is sent as soon as it can be.",
            "dropTap": "Do not send it",
            "refusedTap": "“{label}”, tapped at {at}, could not be taken: {reason}",
            "notSent": "{why} Nothing you typed is lost: try “{label}” again.",
            "othersWait": "Others wait before it.",
            "signIn": "Sign in",
            "whoIsIt": "Who is it?",
            "takesPin": "This takes your PIN",
            "yourPin": "Six digits",
            "goOn": "Go on",
            "notNow": "Not now",
            "boardLost": "No line to the kitchen’s machine since {at}: the clocks go on from what was forecast then.",
            "boardRestarted": "The kitchen’s machine was started anew, seen at {at}. Nothing that was written down is lost; what devices did not send meanwhile was not seen. Tap to put this away.",
            "boardClock": "The kitchen’s clock was set; it is {at} now. Tap to put this away.",
            "boardSlept": "This device slept for about {min} min: what was due meanwhile was not heard here. Tap to put this away.",
            "soundOn": "Sound is on here",
            "soundOff": "Sound is off here: switch it on",
            "untilUnsafe": "{min} min left: not safe from {at}.",
            "moreAlarms": "And {n} more.",
            "paceOn": "Done: next",
            "paceThen": "then: {what}",
            "paceTook": "took {n} s",
            "paceDone": "Done. Cut and look.",
            "paceNext": "The next piece",
            "notWritten": "It was not written down.",
        })
        .to_string()
    });
    &WORDS
}
