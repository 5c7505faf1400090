//! How faults look.

use crate::{ids::*, makers::*};
use westerfall_core::{
    condition::{Check, Comparison, Condition, When},
    highlight::{Highlight, Ink, Look, Sign, Touch},
    id::HighlightId,
    schema::Hue,
};

/// One number each from here on.
const HIGHLIGHTS: u32 = 400;

pub(crate) fn highlights() -> Vec<Highlight> {
    use faults as f;
    let look = Look::default;
    let is = |status: usize| test(&[f::STATUS], Check::Option { not: false, any: vec![STATUSES[status]] });
    let late = test(&[f::DUE], Check::Day { how: Comparison::Under, than: When::Today(0) });
    let dangerous = test(&[f::SEVERITY], Check::Option { not: false, any: vec![SEVERITIES[3]] });
    let rowan = Some(Ink::Of(Hue::Rowan));
    let peak = Some(Sign { name: "peak".into(), hue: Some(Hue::Rowan) });
    let rules = [
        (Condition::All(vec![late, status_open()]), vec![Touch::of(f::DUE, Look { ink: rowan, bold: true, ..look() })]),
        (
            Condition::All(vec![dangerous, status_open()]),
            vec![Touch::whole(Look { edge: Some(Hue::Rowan), ..look() }), Touch::of(f::TITLE, Look { bold: true, sign: peak, ..look() })],
        ),
        (Condition::All(vec![is(4)]), vec![Touch::whole(Look { ink: Some(Ink::Quiet), edge: Some(Hue::Fern), ..look() })]),
        (Condition::All(vec![is(5)]), vec![Touch::whole(Look { ink: Some(Ink::Quiet), struck: true, ..look() })]),
        (
            Condition::All(vec![is(2), test(&[f::HOURS], Check::Empty)]),
            vec![Touch::of(f::HOURS, Look { ink: Some(Ink::Of(Hue::Bracken)), italic: true, word: "how many?".into(), ..look() })],
        ),
    ];
    let made = |(place, (condition, touches)): (u32, (Condition, Vec<Touch>))| Highlight {
        id: HighlightId::new(HIGHLIGHTS + place).expect("not zero"),
        table: f::TABLE,
        place,
        condition,
        touches,
    };
    (0..).zip(rules).map(made).collect()
}
