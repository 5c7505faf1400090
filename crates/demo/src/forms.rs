//! The demo's two forms.

use crate::ids::{FORM, SEVERITIES, STATUSES, faults, lines, orders};
use westerfall_core::{
    condition::{Check, Condition, Test},
    form::{Above, Appearance, Following, Form, LineQuestion, Lines, Question, Shown, Theme},
    id::{FieldId, FormId},
    wording::{Piece, Wording},
};

const ORDER_FORM: u32 = 123;

pub(crate) fn forms() -> [Form; 2] {
    [report_fault(), order_materials()]
}

fn test(path: &[FieldId], check: Check) -> Condition {
    Condition::Test(Test { path: path.to_vec(), of: westerfall_core::condition::Quantity::Any, check })
}

/// What the office orders for a job: several lines in one answer.
fn order_materials() -> Form {
    use {lines as l, orders as o};
    let line = |field, label: &str, required| LineQuestion { field, label: label.into(), required };
    Form {
        intro: "For crew leaders. The store has it ready the evening before.".into(),
        questions: vec![
            Question { required: true, ..Question::new(o::PLANNED, "On which day is the work?") },
            Question { help: "Your name or your mail address.".into(), ..Question::new(o::LEADER, "Who leads the crew?") },
            Question {
                required: true,
                lines: Some(Lines {
                    questions: vec![line(l::MATERIAL, "Material", true), line(l::QUANTITY, "How many", true)],
                    most: 20,
                    total: Some(o::MATERIALS),
                }),
                ..Question::new(o::LINES, "What do you need?")
            },
        ],
        confirmation: Wording(vec![
            Piece::Text("Ordered as work order ".into()),
            Piece::Value(vec![o::NUMBER]),
            Piece::Text(", for ".into()),
            Piece::Value(vec![o::MATERIALS]),
            Piece::Text(".".into()),
        ]),
        send_label: "Order".into(),
        open: true,
        appearance: Appearance { theme: Theme::Quarry, team: true, ..Appearance::default() },
        ..Form::new(FormId::new(ORDER_FORM).expect("not zero"), o::TABLE, "Order materials for a job", "order-materials")
    }
}

/// What walkers report, from the code on a waymark post.
fn report_fault() -> Form {
    use faults as f;
    let severe = || Check::Option { not: false, any: SEVERITIES[2..].to_vec() };
    let unseen = || Check::Option { not: false, any: STATUSES[..2].to_vec() };
    let ask = |field, label: &str, help: &str, required| Question { help: help.into(), required, ..Question::new(field, label) };
    Form {
        intro: "Thank you for stopping. A warden reads this within a day.".into(),
        questions: vec![
            // The code on a waymark post names its section.
            Question { parameter: "post".into(), ..ask(f::SECTION, "Which path?", "Type part of its name.", true) },
            ask(f::TITLE, "What is wrong?", "In a few words.", true),
            ask(f::KIND, "What is it about?", "", true),
            ask(f::SEVERITY, "Can one get past?", "", true),
            ask(f::PICTURES, "A picture", "Its place is not kept.", false),
            ask(f::DESCRIPTION, "Anything else we should know?", "", false),
            Question {
                above: Some(Above { heading: "About you".into(), text: "Only if you would like to hear how it goes.".into() }),
                ..ask(f::REPORTER, "Your name", "", false)
            },
            ask(f::MAIL, "Your mail address", "", false),
            Question {
                shown: Shown { condition: test(&[f::SEVERITY], severe()), ..Shown::default() },
                ..ask(f::PHONE, "Your phone", "So that a warden can ask where exactly it is.", false)
            },
        ],
        confirmation: Wording(vec![
            Piece::Text("Thank you. The warden of that path has your report, number ".into()),
            Piece::Value(vec![f::NUMBER]),
            Piece::Text(", and will go and look.".into()),
        ]),
        following: Some(Following {
            shows: vec![f::NUMBER, f::STATUS, f::PLANNED],
            adds: vec![f::DESCRIPTION],
            while_: test(&[f::STATUS], unseen()),
        }),
        appearance: Appearance { team: true, ..Appearance::default() },
        send_label: "Send report".into(),
        open: true,
        closed_text: "We take no reports at the moment. Please call the office.".into(),
        ..Form::new(FormId::new(FORM).expect("not zero"), f::TABLE, "Report a path fault", crate::FORM_LINK)
    }
}
