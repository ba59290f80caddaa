"""A small shed, written in every format by that format's own library, for the readers to read."""

from __future__ import annotations

import io
import zipfile

import ifcopenshell
import ifcopenshell.api
import ifcopenshell.api.aggregate
import ifcopenshell.api.context
import ifcopenshell.api.geometry
import ifcopenshell.api.material
import ifcopenshell.api.root
import ifcopenshell.api.spatial
import ifcopenshell.api.style
import ifcopenshell.api.unit
import numpy as np
import trimesh
from PIL import Image
from pxr import Gf, Sdf, Usd, UsdGeom, UsdShade, Vt

SHED = {
    "Floor": ((0.0, 0.0, -0.1), (4.0, 3.0, 0.0)),
    "Wall north": ((0.0, 2.9, 0.0), (4.0, 3.0, 2.6)),
    "Wall east": ((3.9, 0.0, 0.0), (4.0, 2.9, 2.6)),
    "Door": ((1.0, -0.05, 0.0), (1.9, 0.0, 2.1)),
}
"""Parts as boxes between two corners, metres, Z up."""
RED = (0.5, 0.1, 0.1)


def box_of(name: str) -> trimesh.Trimesh:
    return trimesh.creation.box(bounds=np.array(SHED[name]))


def scene(scale: float = 1.0, y_up: bool = False) -> trimesh.Scene:
    """The shed as trimesh has it."""
    whole = trimesh.Scene()
    for name in SHED:
        box = box_of(name)
        box.apply_scale(scale)
        if y_up:
            box.apply_transform([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]])
        box.visual = trimesh.visual.TextureVisuals(
            material=trimesh.visual.material.SimpleMaterial(
                diffuse=[255, 0, 0, 255] if name == "Door" else [200, 200, 200, 255], name=name.replace(" ", "_")
            )
        )
        whole.add_geometry(box, geom_name=name, node_name=name)
    return whole


def picture(color=(0, 0, 255)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (4, 4), color).save(out, "PNG")
    return out.getvalue()


def zipped(files: dict[str, bytes], method: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        for name, raw in files.items():
            archive.writestr(name, raw)
    return out.getvalue()


def obj_zip(scale: float = 1.0, y_up: bool = False) -> bytes:
    """OBJ, MTL and a texture by trimesh's writer, names as objects, in a folder of a .zip."""
    text, beside = trimesh.exchange.obj.export_obj(scene(scale, y_up), return_texture=True, include_texture=True)
    mtl = b"\n".join(raw for name, raw in beside.items() if name.endswith(".mtl"))
    name = next(name for name in beside if name.endswith(".mtl"))
    mtl += b"\nnewmtl tiled\nKd 1 1 1\nmap_Kd tex\\tile.png\n"
    text += "\no Tile\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl tiled\nf -4/-4 -3/-3 -2/-2 -1/-1\n"
    return zipped({"shed/shed.obj": text.encode(), f"shed/{name}": mtl, "shed/tex/tile.png": picture()})


def stage(metres_per_unit: float | None = 0.01, up: str | None = "Y", path: str = "shed.usda") -> Usd.Stage:
    """The shed as OpenUSD, in centimetres and Y up unless told."""
    made = Usd.Stage.CreateInMemory(path)
    if metres_per_unit is not None:
        UsdGeom.SetStageMetersPerUnit(made, metres_per_unit)
    if up is not None:
        UsdGeom.SetStageUpAxis(made, up)
    root = UsdGeom.Xform.Define(made, "/Shed")
    made.SetDefaultPrim(root.GetPrim())
    material = UsdShade.Material.Define(made, "/Shed/Looks/Red_paint")
    shader = UsdShade.Shader.Define(made, "/Shed/Looks/Red_paint/Surface")
    shader.CreateIdAttr("UsdPreviewSurface")
    shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).Set(Gf.Vec3f(*RED))
    shader.CreateInput("roughness", Sdf.ValueTypeNames.Float).Set(0.25)
    material.CreateSurfaceOutput().ConnectToSource(shader.ConnectableAPI(), "surface")
    per = 1.0 / (metres_per_unit or 0.01)
    for name in SHED:
        box = box_of(name)
        points = np.asarray(box.vertices) * per
        if up != "Z":
            points = points[:, [0, 2, 1]] * [1, 1, -1]
        mesh = UsdGeom.Mesh.Define(made, "/Shed/" + name.replace(" ", "_"))
        mesh.GetPrim().SetDisplayName(name)
        mesh.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(points.astype(np.float32)))
        mesh.CreateFaceVertexCountsAttr([3] * len(box.faces))
        mesh.CreateFaceVertexIndicesAttr(np.asarray(box.faces).ravel().tolist())
        mesh.CreateSubdivisionSchemeAttr("none")
        if name == "Door":
            UsdShade.MaterialBindingAPI.Apply(mesh.GetPrim()).Bind(material)
    return made


def usda(**said) -> bytes:
    made = stage(**said)  # held: a layer does not keep its stage
    return made.GetRootLayer().ExportToString().encode()


def ifc(at=(0.0, 0.0, 0.0)) -> bytes:
    """The shed as IFC4 in millimetres, at a place in metres: two storeys, told from the top, a space, walls of plaster,
    a slab, a door, true north 30° to the east."""
    run = ifcopenshell.api.run
    file = ifcopenshell.api.run("project.create_file", version="IFC4")
    project = run("root.create_entity", file, ifc_class="IfcProject", name="Shed")
    run("unit.assign_unit", file, length={"is_metric": True, "raw": "MILLIMETERS"})
    context = run("context.add_context", file, context_type="Model")
    body = run(
        "context.add_context",
        file,
        context_type="Model",
        context_identifier="Body",
        target_view="MODEL_VIEW",
        parent=context,
    )
    turn = np.radians(30.0)
    context.TrueNorth = file.createIfcDirection((float(np.sin(turn)), float(np.cos(turn))))
    site = run("root.create_entity", file, ifc_class="IfcSite", name="Shore")
    site.RefLatitude, site.RefLongitude = (54, 30, 0, 0), (-3, -15, 0, 0)
    building = run("root.create_entity", file, ifc_class="IfcBuilding", name="House")
    ground = run("root.create_entity", file, ifc_class="IfcBuildingStorey", name="Ground floor")
    loft = run("root.create_entity", file, ifc_class="IfcBuildingStorey", name="Drying loft")
    for inner, outer in ((site, project), (building, site), (loft, building), (ground, building)):
        run("aggregate.assign_object", file, products=[inner], relating_object=outer)
    for storey, height in ((ground, 0.0), (loft, 2700.0)):
        matrix = np.eye(4)
        matrix[2, 3] = height + 1000.0 * at[2]
        run("geometry.edit_object_placement", file, product=storey, matrix=matrix, is_si=False)
    style = run("style.add_style", file, name="Red paint")
    run(
        "style.add_surface_style",
        file,
        style=style,
        ifc_class="IfcSurfaceStyleShading",
        attributes={"SurfaceColour": {"Name": None, "Red": 0.8, "Green": 0.1, "Blue": 0.1}, "Transparency": 0.0},
    )
    plaster = run("material.add_material", file, name="Lime plaster")
    for name, kind in (("Floor", "IfcSlab"), ("Wall north", "IfcWall"), ("Wall east", "IfcWall"), ("Door", "IfcDoor")):
        made = run("root.create_entity", file, ifc_class=kind, name=name)
        run("spatial.assign_container", file, products=[made], relating_structure=ground)
        shape = _brep(file, body, box_of(name).apply_translation(at))
        run("geometry.assign_representation", file, product=made, representation=shape)
        if kind == "IfcWall":
            run("material.assign_material", file, products=[made], material=plaster)
        if name == "Door":
            run("style.assign_representation_styles", file, shape_representation=shape, styles=[style])
    space = run("root.create_entity", file, ifc_class="IfcSpace", name="1")
    space.LongName = "Wheel room"
    run("aggregate.assign_object", file, products=[space], relating_object=ground)
    inside = trimesh.creation.box(bounds=np.array([(0.2, 0.2, 0.0), (3.9, 2.9, 2.5)])).apply_translation(at)
    run("geometry.assign_representation", file, product=space, representation=_brep(file, body, inside))
    return file.to_string().encode()


def _brep(file, body, box):
    vertices = [(np.asarray(box.vertices)).tolist()]
    return ifcopenshell.api.run(
        "geometry.add_mesh_representation",
        file,
        context=body,
        vertices=vertices,
        faces=[np.asarray(box.faces).tolist()],
    )
