"""The shop's materials and their rules."""

from fastapi import APIRouter, Request, Response

from jigger.web.choices import unit
from jigger.web.render import Posted, PostedFile, house, render, to
from jigger.web.shop_rules import (
    STOCKS,
    WISHES,
    grouped,
    read_rule_fields,
    read_setting_fields,
    read_stock_fields,
    rules_view,
)

router = APIRouter(prefix="/materials")
FIRST = "outdoor-vinyl"


@router.get("")
def materials(request: Request, chosen: str = FIRST) -> Response:
    return _page(request, "materials.html", chosen)


@router.get("/shop-rules.json")
def written(request: Request) -> Response:
    headers = {"Content-Disposition": "attachment; filename=shop-rules.json"}
    return Response(house(request).shop.written(), media_type="application/json", headers=headers)


@router.post("/file")
def read_in(request: Request, file: PostedFile) -> Response:
    return to(request, f"/materials?chosen={house(request).shop.read_in(file)[0].id}")


@router.post("/{material}")
def change(request: Request, material: str, form: Posted) -> Response:
    house(request).shop.change(material, read_rule_fields(form, unit(request)))
    return _page(request, "fragments/materials.html", material)


@router.post("/{material}/on/{machine}")
def set_on(request: Request, material: str, machine: str, form: Posted) -> Response:
    house(request).shop.set(machine, material, read_setting_fields(form, unit(request)))
    return _page(request, "fragments/materials.html", material)


@router.post("/{material}/stock")
def put_in(request: Request, material: str, form: Posted) -> Response:
    rules = house(request).shop.rules(material)
    values = {"material": rules.id, "form": rules.stock, **read_stock_fields(form, unit(request))}
    house(request).cut_lists.stock.put_in(values)
    return _page(request, "fragments/materials.html", material)


@router.post("/{material}/stock/{piece}")
def change_stock(request: Request, material: str, piece: str, form: Posted) -> Response:
    house(request).cut_lists.stock.change(piece, read_stock_fields(form, unit(request)))
    return _page(request, "fragments/materials.html", material)


@router.post("/{material}/stock/{piece}/trim")
def trim(request: Request, material: str, piece: str) -> Response:
    house(request).cut_lists.stock.trim(piece)
    return _page(request, "fragments/materials.html", material)


@router.post("/{material}/stock/{piece}/remove")
def take_out(request: Request, material: str, piece: str) -> Response:
    house(request).cut_lists.stock.take_out(piece)
    return _page(request, "fragments/materials.html", material)


@router.post("/{material}/duplicate")
def duplicate(request: Request, material: str) -> Response:
    return to(request, f"/materials?chosen={house(request).shop.duplicate(material).id}")


@router.post("/{material}/remove")
def remove(request: Request, material: str) -> Response:
    """Away with an own one; a shipped one goes back to how it is shipped."""
    shop = house(request).shop
    shop.remove(material)
    return to(request, f"/materials?chosen={material if material in shop.listed() else FIRST}")


def _page(request: Request, template: str, chosen: str) -> Response:
    shop = house(request).shop
    view = rules_view(shop.rules(chosen), unit(request), shop.tooling())
    return render(
        request,
        template,
        groups=grouped(shop.listed()),
        view=view,
        wishes=WISHES,
        stocks=STOCKS,
        on_hand=list(house(request).cut_lists.stock.listed(chosen).values()),
    )
