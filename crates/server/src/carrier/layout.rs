//! A queued mail as it is sent: the same in plain text and in a plain layout of ours, with what may be answered and why its reader gets it.

use super::{Links, Ready};
use crate::{app::App, replying::Ways};
use html_escape::encode_text;
use lettre::{
    Message,
    message::{
        Attachment, Mailbox, MultiPart,
        header::{ContentType, HeaderName, HeaderValue},
    },
};
use std::fmt::Write;
use westerfall_core::{
    automation::{Asked, ReplyBy},
    face::Face,
    value::moment_text,
};
use westerfall_store::ClaimedMessage;

/// The colours of a mail: light, since readers of mails turn them dark by themselves.
const INK: &str = "#23261f";
const QUIET: &str = "#5f6356";
const GROUND: &str = "#f6f4ee";
const LINE: &str = "#ddd8cb";
const MOSS: &str = "#4e5b1e";

/// A piece of a mail's body.
enum Block {
    Text(String),
    /// What is said of one of many records, and its address.
    Item(String, Option<String>),
    /// A link with its words.
    Link(String, String),
    /// A way to answer: its words, its address.
    Answer(String, String),
    /// Smaller, at the end.
    Small(String),
}

/// A printed document that goes along with a mail.
#[derive(Debug)]
pub struct Sheet {
    /// Without its ending.
    pub name: String,
    /// A PDF.
    pub bytes: Vec<u8>,
}

/// As it goes to the mail server.
///
/// # Errors
/// An address that can't be written to.
pub(super) fn message(app: &App, ready: Ready<'_>) -> Result<Message, String> {
    let Ready { claimed, links, sheet, id } = ready;
    let mail = &claimed.message;
    let blocks = blocks(app, claimed, &links);
    let team = app.team.now();
    let to = mail.to.parse().map(|address| Mailbox::new(Some(mail.to_name.clone()), address)).map_err(|e| format!("{}: {e}", mail.to))?;
    let mut message = Message::builder()
        .from(app.settings.mail.sender.parse().map_err(|e| format!("sender: {e}"))?)
        .to(to)
        .subject(&mail.subject)
        .message_id(Some(format!("<{id}>")));
    if let Some(address) = links.ways.as_ref().and_then(|ways| ways.mail.as_deref()) {
        let address = address.parse().map_err(|e| format!("{address}: {e}"))?;
        message = message.reply_to(Mailbox::new(None, address));
    }
    if let Some(address) = &links.opt_out {
        // RFC 8058: the mail program posts to it at one press of its reader.
        let header =
            |name, value: String| Ok::<_, String>(HeaderValue::new(HeaderName::new_from_ascii(name).map_err(|e| e.to_string())?, value));
        message = message
            .raw_header(header("List-Unsubscribe".to_owned(), format!("<{address}>"))?)
            .raw_header(header("List-Unsubscribe-Post".to_owned(), "List-Unsubscribe=One-Click".to_owned())?);
    }
    let html = page(team.face(), &mail.subject, &blocks);
    let text = MultiPart::alternative_plain_html(plain(&blocks), html);
    let whole = match sheet {
        Some(Sheet { name, bytes }) => {
            let pdf = ContentType::parse("application/pdf").map_err(|e| e.to_string())?;
            // In its name nothing leads elsewhere, and nothing ends a header.
            let name: String = name.chars().map(|c| if c.is_control() || "/\\:*?\"<>|".contains(c) { '-' } else { c }).collect();
            MultiPart::mixed().multipart(text).singlepart(Attachment::new(format!("{name}.pdf")).body(bytes, pdf))
        }
        None => text,
    };
    message.multipart(whole).map_err(|e| e.to_string())
}

fn blocks(app: &App, claimed: &ClaimedMessage, links: &Links) -> Vec<Block> {
    let mail = &claimed.message;
    let mut blocks = vec![Block::Text(mail.body.clone())];
    if let Some((tracker, table, record)) = claimed.of {
        let address = |table, record| format!("{}/t/{tracker}/{table}/r/{record}", app.settings.public_url);
        for item in &mail.items {
            blocks.push(Block::Item(item.text.trim_end().to_owned(), item.opens.map(|(table, record)| address(table, record))));
        }
        if let (Some(asked), Some(ways)) = (&mail.asks, &links.ways) {
            blocks.extend(answering(app, asked, ways));
        }
        if let Some(record) = record.filter(|_| mail.opens_record) {
            blocks.push(Block::Link("Open it".into(), address(table, record)));
        }
    }
    if !mail.why.is_empty() {
        blocks.push(Block::Small(mail.why.clone()));
    }
    if let Some(address) = &links.opt_out {
        blocks.push(Block::Small(format!("If you want no more of these, say so here: {address}")));
    }
    blocks
}

fn answering(app: &App, asked: &Asked, ways: &Ways) -> Vec<Block> {
    let until = asked.person.map_or_else(|| asked.until_text.clone(), |person| moment_text(asked.until, &app.team.clock_for(person)));
    let mut blocks = Vec::new();
    let by_mail = match &asked.reply.answers {
        ReplyBy::Choices(choices) => {
            let link = |(place, words): (usize, &str)| Block::Answer(words.to_owned(), format!("{}?with={}", ways.link, place + 1));
            blocks.extend(choices.iter().map(|choice| choice.words.as_str()).enumerate().map(link));
            "Or answer this mail with one of these words alone."
        }
        ReplyBy::Typed { asks, .. } => {
            blocks.push(Block::Answer(asks.clone(), ways.link.clone()));
            "Or answer this mail; its first line is taken."
        }
    };
    let by_mail = ways.mail.as_ref().map_or_else(String::new, |_| format!(" {by_mail}"));
    blocks.push(Block::Small(format!(
        "You answer without signing in, once, until {until}. The link changes nothing until you press.{by_mail}"
    )));
    blocks
}

fn plain(blocks: &[Block]) -> String {
    let mut text = String::new();
    for block in blocks {
        let _ = match block {
            Block::Text(body) => write!(text, "{}\n\n", body.trim_end()),
            Block::Item(item, None) => write!(text, "{item}\n\n"),
            Block::Item(item, Some(address)) => write!(text, "{item}\n{address}\n\n"),
            Block::Link(words, address) | Block::Answer(words, address) => write!(text, "{words}: {address}\n\n"),
            Block::Small(small) => write!(text, "{small}\n\n"),
        };
    }
    format!("{}\n", text.trim_end())
}

fn page(team: Face<'_>, subject: &str, blocks: &[Block]) -> String {
    let accent = team.look.accent().unwrap_or_else(|| MOSS.to_owned());
    let mut inner = String::new();
    for block in blocks {
        let _ = match block {
            Block::Text(body) => write!(inner, "{}", paragraphs(body, &accent)),
            Block::Item(item, address) => {
                let open = address.as_ref().map_or_else(String::new, |address| format!("<br>{}", anchor("Open it", address, &accent)));
                write!(inner, "<div style=\"border-top:1px solid {LINE};padding:10px 0\">{}{open}</div>", lines(item, &accent))
            }
            Block::Link(words, address) => write!(inner, "<p style=\"margin:18px 0 0\">{}</p>", anchor(words, address, &accent)),
            Block::Answer(words, address) => write!(
                inner,
                "<p style=\"margin:10px 0 0\"><a href=\"{}\" target=\"_blank\" style=\"display:block;border:1px solid {accent};border-radius:3px;\
                 padding:11px 16px;color:{accent};font-weight:bold;text-decoration:none\">{}</a></p>",
                html_escape::encode_double_quoted_attribute(address),
                encode_text(words)
            ),
            Block::Small(small) => write!(inner, "<p style=\"margin:14px 0 0;color:{QUIET};font-size:13px\">{}</p>", lines(small, &accent)),
        };
    }
    let name = if team.name.is_empty() { "Westerfall" } else { team.name };
    if !team.look.words.is_empty() {
        let words = lines(&team.look.words, &accent);
        let _ = write!(
            inner,
            "<p style=\"margin:18px 0 0;border-top:1px solid {LINE};padding-top:8px;color:{QUIET};font-size:13px\">{}<br>{words}</p>",
            encode_text(name)
        );
    }
    format!(
        "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>{}</title></head>\
         <body style=\"margin:0;background:{GROUND}\"><div style=\"max-width:560px;margin:0 auto;padding:18px 20px 24px;border-top:4px solid {accent};color:{INK};\
         font:16px/1.5 Georgia,serif\"><p style=\"margin:0;color:{QUIET};font-size:14px\">{}</p>\
         <h1 style=\"margin:4px 0 14px;font-size:22px;line-height:1.3\">{}</h1>{inner}</div></body></html>\n",
        encode_text(subject),
        encode_text(name),
        encode_text(subject)
    )
}

fn anchor(words: &str, address: &str, accent: &str) -> String {
    format!(
        "<a href=\"{}\" target=\"_blank\" style=\"color:{accent}\">{}</a>",
        html_escape::encode_double_quoted_attribute(address),
        encode_text(words)
    )
}

/// Lines of a text, one under the other.
fn lines(text: &str, accent: &str) -> String {
    text.lines().map(|line| linked(line, accent)).collect::<Vec<_>>().join("<br>")
}

/// Addresses of the web in a line as links.
fn linked(line: &str, accent: &str) -> String {
    let word = |word: &str| {
        let address = word.trim_end_matches(['.', ',', ')', ';']);
        if address.starts_with("https://") || address.starts_with("http://") {
            format!("{}{}", anchor(address, address, accent), encode_text(&word[address.len()..]))
        } else {
            encode_text(word).into_owned()
        }
    };
    line.split(' ').map(word).collect::<Vec<_>>().join(" ")
}

fn paragraphs(text: &str, accent: &str) -> String {
    let each = |part: &str| format!("<p style=\"margin:0 0 12px\">{}</p>", lines(part, accent));
    text.trim().split("\n\n").filter(|part| !part.trim().is_empty()).map(each).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use westerfall_core::face::TeamLook;

    #[test]
    fn a_mail_says_the_same_in_both_its_forms_and_nothing_in_it_is_markup() {
        let blocks = vec![
            Block::Text("Gate <b>broken</b>\nSee http://127.0.0.1/x.\n\nSecond".into()),
            Block::Answer("I’ll go & look".into(), "http://127.0.0.1/reply/a?with=1".into()),
            Block::Small("Why: \"A\"".into()),
        ];
        let text = plain(&blocks);
        assert_eq!(
            text,
            "Gate <b>broken</b>\nSee http://127.0.0.1/x.\n\nSecond\n\nI’ll go & look: http://127.0.0.1/reply/a?with=1\n\nWhy: \"A\"\n"
        );
        let html = page(Face::named("Paths & Co"), "A <subject>", &blocks);
        assert!(html.contains("Gate &lt;b&gt;broken&lt;/b&gt;<br>See <a href=\"http://127.0.0.1/x\""), "{html}");
        assert!(html.contains("A &lt;subject&gt;") && html.contains("Paths &amp; Co") && html.contains("I’ll go &amp; look</a>"), "{html}");
        assert!(!html.contains("<b>") && !html.contains("<subject>"), "{html}");
    }

    #[test]
    fn a_mail_wears_the_colour_of_the_team_where_it_can_be_read_and_ends_with_its_letterhead() {
        let look = TeamLook { mark: None, colour: Some("#ffee00".into()), words: "Mill Lane 4\n<Harrow> Tarn".into() };
        let face = Face { name: "Paths", look: &look };
        let html = page(face, "A subject", &[Block::Link("Open it".into(), "http://127.0.0.1/t".into())]);
        let accent = look.accent().expect("a colour");
        assert!(html.contains(&format!("border-top:4px solid {accent}")) && !html.contains("#ffee00") && !html.contains(MOSS), "{html}");
        assert!(html.contains("Paths<br>Mill Lane 4<br>&lt;Harrow&gt; Tarn"), "{html}");
    }
}
