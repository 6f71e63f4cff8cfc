import { searchKey } from '../colours/colour.ts'
import type { Field } from './list-fields.ts'

/**
 * What columns of each field are called: in English, German, French, Spanish, Italian, Dutch, Portuguese, Polish, Czech,
 * Swedish and Danish (ordinary words of those languages, from memory). The first of a field is the plainest.
 */
const WORDS: Record<Field, string> = {
  part: `part, part name, name, piece, element, description, mould, mold, shape, item, item name, part description,
    teil, bauteil, stein, bezeichnung, beschreibung, teilename, pièce, désignation, nom, élément, pieza, nombre, descripción, elemento,
    pezzo, descrizione, nome, onderdeel, steen, omschrijving, naam, peça, descrição, część, element, nazwa, opis, klocek,
    díl, dílek, název, popis, del, bit, beskrivning, benämning, namn, klods, beskrivelse, navn`,
  colour: `colour, color, colour name, color name, farbe, farbname, couleur, color de la pieza, colore, kleur, cor, kolor, barva, färg, farve`,
  qty: `quantity, qty, count, number, amount, pieces, pcs, how many, needed, have, total quantity, no of pieces, quantity needed,
    menge, anzahl, stück, stk, stückzahl, quantité, qté, nombre de pièces, nb, cantidad, cant, unidades, quantità, qta, pezzi, quanti,
    aantal, hoeveelheid, stuks, quantidade, qtd, ilość, liczba, sztuk, szt, množství, počet, kusů, ks, antal, mängd, stycken, mængde`,
  stage: `stage, bag, step, section, phase, bauabschnitt, abschnitt, tüte, beutel, schritt, étape, sachet, sac, etapa, bolsa, paso,
    fase, sacchetto, busta, passo, zakje, stap, saco, etap, worek, torebka, krok, sáček, etapp, påse, steg, pose, trin`,
  spare: `spare, extra, is spare, spares, ersatz, ersatzteil, rechange, en plus, repuesto, sobrante, ricambio, reserve, sobressalente,
    zapasowy, zapas, náhradní, reserv, ekstra`,
  figure: `figure, character, person, figur, personnage, figura, personaje, personaggio, figuur, personagem, postać, postava`,
  place: `place, bin, box, drawer, location, where, storage, container, shelf, cabinet, fach, ort, lagerort, kiste, schublade, kasten, behälter,
    lieu, emplacement, boîte, tiroir, bac, endroit, lugar, caja, cajón, ubicación, luogo, posto, scatola, cassetto, posizione,
    plaats, plek, doos, lade, bak, locatie, caixa, gaveta, local, miejsce, pudełko, szuflada, místo, krabice, zásuvka, přihrádka,
    plats, låda, hylla, sted, kasse, skuffe`,
  condition: `condition, state, quality, used, zustand, état, etat, estado, condición, condizione, stato, staat, conditie, condição, stan, stav, skick, stand, tilstand`,
  module: `module, sub assembly, subassembly, assembly, group, submodel, area, modul, baugruppe, gruppe, bereich, sous ensemble, groupe, módulo,
    grupo, conjunto, modulo, gruppo, sottogruppo, groep, deelmodel, moduł, grupa, skupina, grupp, område`,
  repeats: `repeats, repeat, times, multiplier, wiederholungen, mal, répétitions, fois, repeticiones, veces, ripetizioni, volte, herhalingen, keer,
    repetições, powtórzenia, razy, opakování, krát, upprepningar, gånger, gentagelser`,
  note: `note, notes, comment, comments, remark, remarks, bemerkung, notiz, anmerkung, kommentar, remarque, commentaire, nota, notas, comentario,
    observaciones, note e commenti, commento, opmerking, notitie, observação, comentário, uwagi, uwaga, poznámka, anteckning, bemærkning`,
  shop: `shop, seller, store, vendor, supplier, händler, laden, verkäufer, anbieter, geschäft, magasin, boutique, vendeur, fournisseur, tienda, vendedor,
    proveedor, negozio, venditore, fornitore, winkel, verkoper, leverancier, loja, fornecedor, sklep, sprzedawca, dostawca, obchod, prodejce, butik, säljare, sælger`,
  price: `price, price each, unit price, cost, each, price per piece, preis, stückpreis, einzelpreis, prix, prix unitaire, precio, precio unitario,
    prezzo, prezzo unitario, prijs, stukprijs, preço, preço unitário, cena, cena za sztukę, cena za kus, pris, styckpris, stykpris`,
  stock: `stock, available, in stock, quantity, qty, count, lager, bestand, verfügbar, auf lager, vorrat, disponible, en stock, existencias, disponibile,
    disponibilità, giacenza, voorraad, beschikbaar, estoque, disponível, stan magazynowy, dostępne, skladem, i lager, på lager`,
  pack: `pack, pack of, pack size, lot, lot size, multiple, minimum, packung, gebinde, packungsgröße, lot de, paquete, paquet, confezione, pacco,
    verpakking, pakket, pacote, opakowanie, balení, förpackning, pakke`,
  partCode: `part code, part number, part no, part id, code, article, article number, reference, ref, teilenummer, teile nr, teilenr, artikelnummer, artikel nr,
    nummer, numéro de pièce, référence, réf, código, referencia, número de pieza, codice, riferimento, onderdeelnummer, artikelnummer, referência,
    numer części, kod, číslo dílu, kód, artikelnummer, delnummer, varenummer`,
  colourCode: `colour code, color code, colour number, colour no, colour id, color id, farbnummer, farbcode, farb nr, code couleur, numéro de couleur, código de color,
    codice colore, kleurcode, kleurnummer, código da cor, kod koloru, kód barvy, färgkod, farvekode`,
  decoration: `decoration, print, sticker, pattern, printed, druck, aufdruck, aufkleber, impression, autocollant, décor, impresión, pegatina, adhesivo,
    stampa, adesivo, opdruk, bedrukking, impressão, autocolante, nadruk, naklejka, potisk, samolepka, tryck, klistermärke, tryk, klistermærke`,
  length: `length, length mm, mm, länge, länge mm, longueur, longitud, largo, lunghezza, lengte, comprimento, długość, délka, längd, længde`,
  visibility: `visibility, visible, seen, hidden, seen or hidden, sichtbar, versteckt, caché, visible ou caché, oculto, nascosto, zichtbaar, verborgen, escondido,
    widoczny, ukryty, viditelný, skrytý, synlig, dold, skjult`,
  piece: `part and colour, part and color, piece and colour, part colour, teil und farbe, pièce et couleur, pieza y color, pezzo e colore`,
  line: `line, count part colour, entry, zeile, ligne`,
  thirdParty: `third party, third party part, copied, not original, fremdteil, kein original, nicht original, compatible, no original, non originale, niet origineel,
    não original, nieoryginalny, neoriginální, ej original`,
}

/** Words that headings of each field are made of, in the form in which they are compared (`searchKey`). */
export const HEADINGS: Readonly<Record<Field, ReadonlySet<string>>> = Object.fromEntries(
  Object.entries(WORDS).map(([field, words]) => [field, new Set(words.split(',').map(searchKey))]),
) as unknown as Readonly<Record<Field, ReadonlySet<string>>>

const UNIT = /\s+(?:mm|pcs|stk|eur|usd|gbp|chf|sek|pln|czk|dkk)$/

/** Whether a heading is just a word for a field. */
export const isHeadingOf = (heading: string, field: Field): boolean =>
  HEADINGS[field].has(heading) || HEADINGS[field].has(heading.replace(UNIT, ''))

/** How well a heading names a field: 1 when it is one of its words, 0.8 when it holds one, 0 else. */
export function headingFits(heading: string, field: Field): 0 | 0.8 | 1 {
  if (isHeadingOf(heading, field)) return 1
  const words = HEADINGS[field]
  const padded = ` ${heading} `
  for (const word of words) if (word.length > 2 && padded.includes(` ${word} `)) return 0.8
  return 0
}
