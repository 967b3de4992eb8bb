"""VTK renders off-screen into an image: one merged mesh painted by utilisation, with its feature edges.

Imported after the window's first paint.  Nothing else in the window knows VTK.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray, vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkPoints, vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkRenderingCore import vtkActor, vtkLight, vtkPolyDataMapper, vtkRenderer, vtkRenderWindow
from vtkmodules.vtkRenderingOpenGL2 import vtkOpenGLRenderTimer

from urial.assembly.bodies import Mesh
from urial.desk.scene.camera import Camera

Array = NDArray[np.float64]


class Renderer:
    """An off-screen window with the merged mesh in it."""

    def __init__(self) -> None:
        self.window = vtkRenderWindow()
        self.window.SetOffScreenRendering(1)
        self.window.SetShowWindow(False)
        self.window.SetMultiSamples(0)
        self.window.SetSwapBuffers(0)  # nobody looks at it: what is drawn is read where it was drawn
        self.window.SetAlphaBitPlanes(1)
        self.renderer = vtkRenderer()
        self.renderer.SetBackground(0, 0, 0)
        self.renderer.SetBackgroundAlpha(0.0)
        self.window.AddRenderer(self.renderer)
        self.data, self.lines = vtkPolyData(), vtkPolyData()
        self.solid, self.edges = vtkActor(), vtkActor()
        faces, ink = vtkPolyDataMapper(), vtkPolyDataMapper()
        faces.SetInputData(self.data)
        faces.SetScalarModeToUsePointData()  # a point belongs to one part; by triangle is a third slower
        ink.SetInputData(self.lines)
        ink.SetScalarVisibility(False)
        ink.SetResolveCoincidentTopologyToPolygonOffset()
        self.solid.SetMapper(faces)
        self.edges.SetMapper(ink)
        surface = self.solid.GetProperty()
        surface.SetAmbient(0.34)
        surface.SetDiffuse(0.72)
        surface.SetSpecular(0.06)
        surface.SetInterpolationToFlat()
        surface.SetBackfaceCulling(True)  # every solid is closed: its far side is never seen
        self.renderer.AddActor(self.solid)
        self.renderer.AddActor(self.edges)
        self.renderer.RemoveAllLights()
        for position, strength in (((-0.5, 0.8, 1.4), 0.95), ((0.9, -0.3, 0.5), 0.35)):
            light = vtkLight()
            light.SetLightTypeToCameraLight()
            light.SetPosition(*position)
            light.SetIntensity(strength)
            self.renderer.AddLight(light)
        self.set_ink("#20292E")
        self._fine = True
        self._pixels: NDArray[np.uint8] | None = None
        self._asked = vtkOpenGLRenderTimer()

    def set_ink(self, colour: str) -> None:
        """Colour of the edges."""
        rgb = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
        self.edges.GetProperty().SetColor(*rgb)
        self.edges.GetProperty().SetLighting(False)

    def two_sided(self) -> None:
        """Show the inside of faces too: the bodies are a stranger's, and not all closed."""
        self.solid.GetProperty().SetBackfaceCulling(False)

    def set_mesh(self, mesh: Mesh, points: Array | None = None) -> None:
        """Replace the geometry; ``points`` displaced ones for the deflected shape."""
        where = mesh.points if points is None else points
        vtk_points = vtkPoints()
        vtk_points.SetData(numpy_to_vtk(np.ascontiguousarray(where), deep=True))
        self.data.SetPoints(vtk_points)
        self.data.SetPolys(_cells(mesh.triangles))
        self.data.Modified()
        self.lines.SetPoints(vtk_points)
        self.lines.SetLines(_cells(mesh.edges))
        self.lines.Modified()

    def set_colours(self, rgb: NDArray[np.uint8]) -> None:
        """Paint the triangles by their points' colours (n, 3) uint8."""
        scalars: vtkUnsignedCharArray = numpy_to_vtk(np.ascontiguousarray(rgb), deep=True)
        scalars.SetName("paint")
        self.data.GetPointData().SetScalars(scalars)
        self.data.Modified()

    def image(self, camera: Camera, ratio: float, fine: bool) -> QImage:
        """What the camera sees; ``ratio`` is image pixels per widget pixel."""
        self.draw(camera, ratio, fine)
        return self.drawn()

    def draw(self, camera: Camera, ratio: float, fine: bool) -> None:
        """Have it drawn: where the processor does it, other threads go on with it until :meth:`drawn`."""
        _, up, towards = camera.axes()
        cam = self.renderer.GetActiveCamera()
        cam.ParallelProjectionOn()
        cam.SetFocalPoint(*camera.focus)
        cam.SetPosition(*(camera.focus + towards * 5000))
        cam.SetViewUp(*up)
        cam.SetParallelScale(camera.size[1] / 2 / camera.scale)
        self.renderer.ResetCameraClippingRange()
        self.edges.GetProperty().SetLineWidth(max(1.0, 1.2 * ratio) if fine else 1.0)
        self.window.SetSize(*(max(2, round(side * ratio)) for side in camera.size))
        self._fine = fine
        self._asked.Reset()
        self._asked.Start()
        self.window.Render()
        if self._asked.Started():  # not by the first picture, which makes the driver's room
            self._asked.Stop()
            self._asked.Ready()  # a driver that has only taken notes so far begins when asked how far it is

    def drawn(self) -> QImage:
        """The picture asked for last."""
        width, height = self.window.GetSize()
        pixels = vtkUnsignedCharArray()
        self.window.GetRGBACharPixelData(0, 0, width - 1, height - 1, 0, pixels, 0)
        data = np.ascontiguousarray(vtk_to_numpy(pixels).reshape(height, width, 4)[::-1])
        if self._fine:  # smoothed lines blend their alpha twice; premultiplied colour may not exceed it
            everywhere = data[:, :, 3].astype(np.uint32) * np.uint32(0x01010101)  # in all four bytes
            np.minimum(data, everywhere.view(np.uint8).reshape(data.shape), out=data)
        image = QImage(data.data, width, height, 4 * width, QImage.Format.Format_RGBA8888_Premultiplied)
        if self._fine:
            return image.copy()
        self._pixels = data  # a coarse picture lives as long as the view moves on: it looks at these
        return image


def _cells(corners: NDArray[np.integer]) -> vtkCellArray:
    """Triangles (m, 3) or lines (m, 2) of point numbers as VTK keeps them."""
    count, each = len(corners), corners.shape[1]
    cells = vtkCellArray()
    starts = np.arange(0, each * count + 1, each, dtype=np.int64)
    cells.SetData(
        numpy_to_vtkIdTypeArray(starts, deep=True),
        numpy_to_vtkIdTypeArray(np.ascontiguousarray(corners, dtype=np.int64).ravel(), deep=True),
    )
    return cells
